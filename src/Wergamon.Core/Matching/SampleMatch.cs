namespace Wergamon.Core.Matching;

/// <summary>Every sample is equal.</summary>
public sealed class SampleMatch : MatchRule
{
    public const string RuleName = "samples";

    public override string Name => RuleName;

    public override string InWords => "equal samples";

    public override string? KeyOf(CopyTraits copy) => copy.IsSilent ? null : copy.Samples;

    public override bool Fits(CopyTraits one, CopyTraits other) => true;
}
