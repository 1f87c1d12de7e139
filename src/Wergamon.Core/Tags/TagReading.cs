using Wergamon.Core.Bytes;

namespace Wergamon.Core.Tags;

/// <summary>Result of reading tags: what could be read and, in words, what could not.</summary>
public sealed record TagReading(TagSet Tags, IReadOnlyList<string> Damage)
{
    /// <summary>What could not be read, in words; the first of many.</summary>
    public IReadOnlyList<string> Damage { get; } =
    [
        .. Damage.Distinct().Take(Limits.MaxDamageMessages),
        .. Tags.IsCut
            ? [
                string.Create(
                    System.Globalization.CultureInfo.InvariantCulture,
                    $"The tag has more than {Limits.MaxTagValues} values; the rest was left out.")
            ]
            : Array.Empty<string>(),
    ];
}
