namespace Wergamon.App.Workers;

/// <summary>A worker crashed, fell silent or outgrew its memory, and with it the one job it had. The message says which.</summary>
public sealed class WorkerLostException : Exception
{
    public WorkerLostException(string message) : base(message) { }

    public WorkerLostException(string message, Exception inner) : base(message, inner) { }

    public WorkerLostException() { }
}
