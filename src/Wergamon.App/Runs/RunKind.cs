namespace Wergamon.App.Runs;

/// <summary>The rooms of the product, in the order of the navigation.</summary>
public enum Station
{
    Intake,
    Library,
    Tags,
    Convert,
    Bench,
    Sets,
    Deliver,
}

/// <summary>
/// A kind of run: everything that pages, messages and reports say about it. Each station registers its own beside its handlers.
/// </summary>
/// <param name="Key">Names it in the database.</param>
/// <param name="Doing">While it runs: "Converting".</param>
/// <param name="Did">What became of its results, as in "6 proved". Only proved results are called proved.</param>
public sealed record RunKind(string Key, Station Station, string Doing, string Did)
{
    /// <summary>One of its results, in the singular.</summary>
    public string Noun { get; init; } = "file";

    /// <summary>What a run is about, if not "6 files for Pocket player".</summary>
    public Func<RunRow, string>? SaysSummary { get; init; }

    /// <summary>True if it makes new copies of music, which can be played, downloaded and compared with their sources.</summary>
    public bool MakesCopies { get; init; }

    /// <summary>True if its summary says how it ended, so that no "all done" has to follow.</summary>
    public bool SaysHowItEnded { get; init; }

    /// <summary>True if its changes can be undone.</summary>
    public bool CanBeUndone { get; init; }

    /// <summary>What a run is about, in a line.</summary>
    public string Summary(RunRow run) => SaysSummary?.Invoke(run) ?? $"{run.CountResults(Noun)} for {run.Purpose}";

    /// <summary>"6 proved", "5 proved, 1 failed".</summary>
    public string Outcome(RunRow run) => run.Failed == 0 ? $"{run.Done} {Did}" : $"{run.Done} {Did}, {run.Failed} failed";
}
