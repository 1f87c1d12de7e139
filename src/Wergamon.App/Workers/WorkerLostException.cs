namespace Wergamon.App.Workers;

/// <summary>A worker crashed, stopped responding or exceeded its memory, and its job was lost. The message says which.</summary>
public class WorkerLostException : Exception
{
    public WorkerLostException(string message) : base(message) { }

    public WorkerLostException(string message, Exception inner) : base(message, inner) { }

    public WorkerLostException() { }
}
