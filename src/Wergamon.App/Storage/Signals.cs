using System.Globalization;
using System.Runtime.CompilerServices;
using System.Threading.Channels;

namespace Wergamon.App.Storage;

/// <summary>Signals that were sent one after another.</summary>
/// <param name="Moment">Up to when, as <see cref="Signals.Now"/> names it.</param>
public sealed record SignalBatch(IReadOnlyList<Signal> Signals, string Moment);

/// <summary>
/// Passes signals from background work to open pages. A page that listens slowly gets each signal once, however often it was sent.
/// </summary>
public sealed class Signals
{
    /// <summary>After so many different signals (ends of runs, in the main) the oldest are forgotten.</summary>
    private const int Kept = 200;

    /// <summary>Distinguishes the numbers of this start of the server from those of an earlier one.</summary>
    private readonly string _start = Guid.NewGuid().ToString("N");
    private readonly Lock _lock = new();
    private readonly HashSet<Listener> _listeners = [];

    /// <summary>What was sent, each signal once, with the number of its last time; the latest is last.</summary>
    private readonly OrderedDictionary<Signal, long> _sent = [];
    private long _number;

    /// <summary>The number of the latest signal that was forgotten.</summary>
    private long _forgotten;

    /// <summary>Identifies this moment, so that a page made now can later ask for what came after.</summary>
    public string Now
    {
        get
        {
            lock (_lock)
                return Moment();
        }
    }

    /// <summary>Whether all that came after this moment is still known.</summary>
    public bool Knows(string? moment) => NumberOf(moment) is not null;

    public void Send(Signal signal)
    {
        lock (_lock)
        {
            _sent.Remove(signal);
            _sent[signal] = ++_number;
            if (_sent.Count > Kept)
            {
                _forgotten = _sent.GetAt(0).Value;
                _sent.RemoveAt(0);
            }

            foreach (var listener in _listeners)
                listener.Add(signal);
        }
    }

    /// <summary>What was sent since the last time, each signal once; waits for the first.</summary>
    /// <param name="after">A moment that <see cref="Now"/> has named. After one that is unknown, from an earlier start of the server or too
    /// long ago, anything may have changed.</param>
    public async IAsyncEnumerable<SignalBatch> ListenAsync(string? after, [EnumeratorCancellation] CancellationToken cancellation)
    {
        var listener = new Listener();
        lock (_lock)
        {
            foreach (var signal in SentAfter(after))
                listener.Add(signal);
            _listeners.Add(listener);
        }

        try
        {
            while (await listener.WaitAsync(cancellation).ConfigureAwait(false))
            {
                SignalBatch batch;
                lock (_lock)
                    batch = new SignalBatch(listener.Take(), Moment());
                if (batch.Signals.Count > 0)
                    yield return batch;
            }
        }
        finally
        {
            lock (_lock)
                _listeners.Remove(listener);
        }
    }

    private string Moment() => string.Create(CultureInfo.InvariantCulture, $"{_start}-{_number}");

    private IEnumerable<Signal> SentAfter(string? after) => NumberOf(after) is { } number
        ? _sent.Where(sent => sent.Value > number).Select(sent => sent.Key)
        : [new(Signal.Library), new(Signal.Runs), new(Signal.Ended), new(Signal.Disc), new(Signal.Storage)];

    private long? NumberOf(string? moment) =>
        moment?.Split('-') is [var start, var text] && start == _start
                && long.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out long number) && number >= _forgotten
            ? number
            : null;

    /// <summary>Signals for one page; used under the lock of all, but for the waiting.</summary>
    private sealed class Listener
    {
        private readonly Channel<bool> _hasSome = Channel.CreateBounded<bool>(
            new BoundedChannelOptions(1) { FullMode = BoundedChannelFullMode.DropWrite });
        private List<Signal> _pending = [];

        public void Add(Signal signal)
        {
            if (!_pending.Contains(signal))
                _pending.Add(signal);
            _hasSome.Writer.TryWrite(true);
        }

        public ValueTask<bool> WaitAsync(CancellationToken cancellation) => _hasSome.Reader.ReadAsync(cancellation);

        public List<Signal> Take()
        {
            var taken = _pending;
            _pending = [];
            return taken;
        }
    }
}
