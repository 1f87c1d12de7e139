namespace Wergamon.App.Runs;

/// <summary>The run cannot continue; the message tells the person why and what to do.</summary>
public sealed class RunStoppedException : Exception
{
    /// <summary>Set if the run continues automatically; null if a person has to act.</summary>
    public DestinationWait? WaitsFor { get; init; }

    public RunStoppedException(string message) : base(message) { }

    public RunStoppedException(string message, Exception inner) : base(message, inner) { }

    public RunStoppedException() { }
}
