using System.Collections.Concurrent;
using System.Runtime.CompilerServices;
using System.Threading.Channels;

namespace Wergamon.App.Runs;

/// <summary>Something that open pages want to know of.</summary>
/// <param name="Kind">"runs" when any run moved on, "ended" when one came to its end, "library" when music came in.</param>
/// <param name="RunId">The run that ended.</param>
public sealed record RunSignal(string Kind, long? RunId = null);

/// <summary>Passes signals from the work to the open pages. A page that does not listen fast enough misses some, never the last.</summary>
public sealed class RunSignals
{
    private const int Kept = 16;

    private readonly ConcurrentDictionary<Channel<RunSignal>, bool> _listeners = new();

    public void Send(RunSignal signal)
    {
        foreach (var listener in _listeners.Keys)
            listener.Writer.TryWrite(signal);
    }

    public async IAsyncEnumerable<RunSignal> ListenAsync([EnumeratorCancellation] CancellationToken cancellation)
    {
        var channel = Channel.CreateBounded<RunSignal>(new BoundedChannelOptions(Kept) { FullMode = BoundedChannelFullMode.DropOldest });
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
