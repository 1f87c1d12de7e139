using Wergamon.App.Storage;

namespace Wergamon.App.Workers;

/// <summary>There is no worker to be had: its program is missing, or the system refuses another process. No file is to blame.</summary>
public sealed class WorkerNotStartedException(string message) : WorkerLostException(message), IOutage;
