using System.Collections.Concurrent;
using System.Runtime.CompilerServices;
using System.Threading.Channels;

namespace Wergamon.App.Storage;

/// <summary>An event that open pages are told about.</summary>
/// <param name="Kind">One of the constants.</param>
/// <param name="RunId">The run that ended.</param>
public sealed record Signal(string Kind, long? RunId = null)
{
    /// <summary>A run made progress.</summary>
    public const string Runs = "runs";

    /// <summary>A run ended.</summary>
    public const string Ended = "ended";

    /// <summary>Music came in or changed.</summary>
    public const string Library = "library";

    /// <summary>A drive, or the disc in it.</summary>
    public const string Disc = "disc";

    /// <summary>The database can no longer be written, or can again.</summary>
    public const string Storage = "storage";
}

/// <summary>Passes signals from background work to open pages. A page that listens too slowly misses some, never the last.</summary>
public sealed class Signals
{
    private const int Kept = 16;

    private readonly ConcurrentDictionary<Channel<Signal>, bool> _listeners = new();

    public void Send(Signal signal)
    {
        foreach (var listener in _listeners.Keys)
            listener.Writer.TryWrite(signal);
    }

    public async IAsyncEnumerable<Signal> ListenAsync([EnumeratorCancellation] CancellationToken cancellation)
    {
        var channel = Channel.CreateBounded<Signal>(new BoundedChannelOptions(Kept) { FullMode = BoundedChannelFullMode.DropOldest });
        _listeners[channel] = true;
        try
        {
            await foreach (var signal in channel.Reader.ReadAllAsync(cancellation).ConfigureAwait(false))
                yield return signal;
        }
        finally
        {
            _listeners.TryRemove(channel, out _);
        }
    }
}
