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

/// <summary>Passes signals from background work to open pages. To a page that listens slowly each signal comes once, however often it was sent.</summary>
public sealed class Signals
{
    private readonly ConcurrentDictionary<Listener, bool> _listeners = new();

    public void Send(Signal signal)
    {
        foreach (var listener in _listeners.Keys)
            listener.Add(signal);
    }

    /// <summary>What was sent since the last time, each signal once; waits for the first.</summary>
    public async IAsyncEnumerable<IReadOnlyCollection<Signal>> ListenAsync([EnumeratorCancellation] CancellationToken cancellation)
    {
        var listener = new Listener();
        _listeners[listener] = true;
        try
        {
            while (true)
                yield return await listener.TakeAsync(cancellation).ConfigureAwait(false);
        }
        finally
        {
            _listeners.TryRemove(listener, out _);
        }
    }

    private sealed class Listener
    {
        private readonly Channel<bool> _hasSome = Channel.CreateBounded<bool>(new BoundedChannelOptions(1) { FullMode = BoundedChannelFullMode.DropWrite });
        private readonly Lock _lock = new();
        private List<Signal> _pending = [];

        public void Add(Signal signal)
        {
            lock (_lock)
            {
                if (!_pending.Contains(signal))
                    _pending.Add(signal);
            }

            _hasSome.Writer.TryWrite(true);
        }

        public async Task<IReadOnlyCollection<Signal>> TakeAsync(CancellationToken cancellation)
        {
            while (true)
            {
                await _hasSome.Reader.ReadAsync(cancellation).ConfigureAwait(false);
                lock (_lock)
                {
                    if (_pending.Count == 0)
                        continue;
                    var taken = _pending;
                    _pending = [];
                    return taken;
                }
            }
        }
    }
}
