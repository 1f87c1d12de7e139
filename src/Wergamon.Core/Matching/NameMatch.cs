namespace Wergamon.Core.Matching;

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
