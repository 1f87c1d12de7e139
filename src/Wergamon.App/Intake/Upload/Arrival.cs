namespace Wergamon.App.Intake.Upload;

public enum ArrivalState
{
    /// <summary>More is to come.</summary>
    Partly,

    /// <summary>The file is complete and in its place.</summary>
    Done,

    /// <summary>The same file was there already.</summary>
    WasThere,

    /// <summary>The bytes do not continue what has arrived.</summary>
    WrongPlace,

    /// <summary>It cannot be taken.</summary>
    Refused,
}

/// <summary>How far a file is after some of it has arrived.</summary>
/// <param name="FinalPath">Where it is once it is done.</param>
public sealed record Arrival(ArrivalState State, long Received, string? FinalPath = null, string? Refusal = null);
