namespace Wergamon.Core.Jobs;

/// <summary>How the server starts a worker.</summary>
public static class WorkerArguments
{
    /// <summary>Codecs are checked when a job first needs them, instead of all of them at the start.</summary>
    public const string CheckOnUse = "--check-on-use";
}
