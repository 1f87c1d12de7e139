using Wergamon.App.Storage;

namespace Wergamon.App.Workers;

/// <summary>No worker could be started: its program is missing, or the system refuses another process. No file is to blame.</summary>
public sealed class WorkerNotStartedException(string message) : WorkerLostException(message), IOutage;
