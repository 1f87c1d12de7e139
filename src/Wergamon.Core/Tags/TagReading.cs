namespace Wergamon.Core.Tags;

/// <summary>Result of reading tags: what could be read and, in words, what could not.</summary>
public sealed record TagReading(TagSet Tags, IReadOnlyList<string> Damage)
{
    private const int MaxComplaints = 20;

    /// <summary>What could not be read, in words; the first of many.</summary>
    public IReadOnlyList<string> Damage { get; } =
    [
        .. Damage.Distinct().Take(MaxComplaints),
        .. Tags.IsCut
            ? [
                string.Create(
                    System.Globalization.CultureInfo.InvariantCulture,
                    $"The tag has more than {TagSet.MaxValues} values; the rest was left out.")
            ]
            : Array.Empty<string>(),
    ];
}
