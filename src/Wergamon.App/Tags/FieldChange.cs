using Wergamon.Core.Tags;

namespace Wergamon.App.Tags;

/// <summary>New values of a field; none remove it.</summary>
public sealed record FieldChange(string Name, IReadOnlyList<string> Values);

/// <summary>A picture that a file gets, by its SHA-256 in the database.</summary>
public sealed record PictureChoice(PictureKind Kind, string Description, string Hash);
