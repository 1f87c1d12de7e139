namespace Wergamon.Core.Tags;

/// <summary>Result of reading tags: what could be read and, in words, what could not.</summary>
public sealed record TagReading(TagSet Tags, IReadOnlyList<string> Damage);
