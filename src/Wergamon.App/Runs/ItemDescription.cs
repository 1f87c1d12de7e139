namespace Wergamon.App.Runs;

/// <summary>How an item is shown in lists and reports.</summary>
/// <param name="Doing">What is being done while it is worked on: "Converting".</param>
/// <param name="Outcome">One word for a good end: "Proved".</param>
public sealed record ItemDescription(string Doing, string Outcome)
{
    /// <summary>What was found out or proved.</summary>
    public string Detail { get; init; } = "";

    /// <summary>The file that it made.</summary>
    public string? Path { get; init; }

    /// <summary>The copy in the library that it made.</summary>
    public long? CopyId { get; init; }

    public long? BytesBefore { get; init; }

    public long? BytesAfter { get; init; }

    /// <summary>What became of the source when it failed: "The original is unchanged."</summary>
    public string OnFailure { get; init; } = "";
}
