using Wergamon.App.Copies;
using Wergamon.App.Storage;
using Wergamon.App.Workers;

namespace Wergamon.App.Deliver.Sticks;

/// <summary>How long work for sticks takes here.</summary>
public sealed class StickPace(Database database, WorkLoad load, StickSpeeds speeds)
{
    public int Workers => load.Workers;

    /// <summary>As <see cref="StickSpeeds.Of"/>.</summary>
    public double? BytesPerSecond(long stickId) => speeds.Of(stickId);

    /// <summary>As <see cref="Throughput.Known"/>.</summary>
    public Dictionary<string, double> Known()
    {
        using var connection = database.Open();
        return Throughput.Known(connection);
    }
}
