namespace Wergamon.Core.Planning;

/// <summary>What to do when the name of a new copy is taken.</summary>
public enum ConflictRule
{
    KeepBoth,
    Skip,
    Replace,

    /// <summary>Replaces what is older than the source, skips what is newer.</summary>
    ReplaceOlder,
}
