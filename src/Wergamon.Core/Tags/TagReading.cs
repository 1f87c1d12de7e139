namespace Wergamon.Core.Tags;

/// <summary>What a reader found: the tags it could read and, in words, what it had to leave.</summary>
public sealed record TagReading(TagSet Tags, IReadOnlyList<string> Damage);
