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
