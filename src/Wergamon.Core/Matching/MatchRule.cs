
namespace Wergamon.Core.Matching;

/// <summary>A rule by which two files are copies of one track.</summary>
public abstract class MatchRule
{
    /// <summary>All rules, the surest first. The first that fits decides.</summary>
    public static IReadOnlyList<MatchRule> All { get; } = [new SampleMatch(), new NameMatch()];

    /// <summary>Identifies the rule in the database.</summary>
    public abstract string Name { get; }

    /// <summary>For the person: "equal samples".</summary>
    public abstract string InWords { get; }

    /// <summary>Only files with the same key are compared; null for a file to which the rule does not apply.</summary>
    public abstract string? KeyOf(CopyTraits copy);

    /// <summary>Whether two files with the same key match.</summary>
    public abstract bool Fits(CopyTraits one, CopyTraits other);
}

/// <summary>Every sample is equal.</summary>
public sealed class SampleMatch : MatchRule
{
    public const string RuleName = "samples";

    public override string Name => RuleName;

    public override string InWords => "equal samples";

    public override string? KeyOf(CopyTraits copy) => copy.IsSilent ? null : copy.Samples;

    public override bool Fits(CopyTraits one, CopyTraits other) => true;
}

/// <summary>Same artist and title, and nearly the same length.</summary>
public sealed class NameMatch : MatchRule
{
    /// <summary>
    /// Encoders add up to a tenth of a second; other cuts of one disc differ by a pause of 2 s (common practice, no source).
    /// </summary>
    public static readonly TimeSpan Tolerance = TimeSpan.FromSeconds(2);

    public override string Name => "names";

    public override string InWords => "same artist, title and length";

    public override string? KeyOf(CopyTraits copy) => copy.Names;

    public override bool Fits(CopyTraits one, CopyTraits other) =>
        (one.Length - other.Length).Duration() <= Tolerance
        && (one.Format.Channels == other.Format.Channels || Math.Max(one.Format.Channels, other.Format.Channels) <= 2);
}
