using System.Globalization;
using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Burning;
using Wergamon.Core.Discs.Reading;
using Wergamon.Devices.Drives;

namespace Wergamon.Devices.Burners;

/// <summary>A burner that writes disc images to the shelf of written discs, at the speed and with the troubles of a real one.</summary>
/// <param name="shelf">The folder of written discs.</param>
/// <param name="time">The time that writing takes.</param>
/// <param name="clock">Tells how long the source keeps the burner waiting.</param>
public sealed class SimulatedBurner(string letter, BurnerTraits traits, string shelf, IDriveTime time, TimeProvider clock)
    : IDiscBurner, IDisposable
{
    private const string TextExtension = ".cdt", PartExtension = ".part";

    private readonly Lock _lock = new();
    private BlankDisc? _blank;
    private Session? _session;
    private SimulatedTray? _reading;

    /// <summary>The burners that ship with the application: one that can wait for its source, and an old one that cannot.</summary>
    public static IReadOnlyList<BurnerTraits> Usual { get; } =
    [
        new("Burner C", [8, 16, 24, 48], BufferSectors: 1_700, CanWait: true),
        new("Burner D", [4, 8], BufferSectors: 430, CanWait: false),
    ];

    public string Letter => letter;

    public BurnerTraits Traits => traits;

    public BurnerDisc? Disc { get; private set; }

    /// <summary>The kind of blank in the tray; null for an empty one.</summary>
    public string? BlankKey => _blank?.Key;

    /// <summary>Puts a disc in; the previous one comes out.</summary>
    /// <param name="blank">What it was before anything was written.</param>
    /// <param name="writtenKey">The key of a rewritable disc that was written before; null for a blank.</param>
    public void Insert(BlankDisc blank, string? writtenKey = null)
    {
        Eject();
        lock (_lock)
        {
            _blank = blank;
            Disc = new BurnerDisc(blank.Label, blank.Blank) { IsRewritable = blank.IsRewritable, WrittenKey = writtenKey };
        }
    }

    public void Eject()
    {
        lock (_lock)
        {
            _session?.TakeAway();
            _session = null;
            _reading?.Dispose();
            _reading = null;
            _blank = null;
            Disc = null;
        }
    }

    public IBurnSession Begin(BurnOrder order)
    {
        lock (_lock)
        {
            if (Disc is not { } disc || _blank is not { } blank)
                throw new BurnFailedException($"There is no disc in {traits.Name}.");
            if (!disc.CanBeWritten)
                throw new BurnFailedException(
                    disc.Spoiled is null ? $"The disc in {traits.Name} is written already." : $"The disc in {traits.Name} is spoiled.");
            if (order.Contents.LeadOut > disc.Blank.Sectors)
                throw new BurnFailedException($"The disc in {traits.Name} is too short for this.");
            int speed = order.Speed == 0
                ? traits.Speeds[^1]
                : traits.Speeds.Contains(order.Speed)
                ? order.Speed
                : throw new BurnFailedException($"{traits.Name} does not write at {order.Speed} times.");
            if (!order.IsTrial)
                Erase(disc);
            return _session = new Session(this, order, blank, speed);
        }
    }

    public void Close()
    {
        lock (_lock)
        {
            if (Disc is not { IsOpen: true, WrittenKey: { } key } disc)
                return;
            (RackNote.Read(shelf, key) with { IsOpen = false }).Write(shelf, key);
            Disc = disc with { IsOpen = false };
        }
    }

    public IAudioDrive Open()
    {
        lock (_lock)
        {
            if (Disc is not { WrittenKey: { } key })
                throw new UnreadableDiscException($"There is no written disc in {traits.Name}.");
            _reading?.Dispose();
            _reading = new SimulatedTray(
                letter,
                new DriveBehaviour(new DriveTraits(traits.Name) { CacheSectors = 200 }, Speed: traits.Speeds[^1], JitterShare: 0, Seed: 5),
                time);
            _reading.Insert(
                new DiscRack(shelf).Take(key, isInBurner: true)
                    ?? throw new UnreadableDiscException("The disc is not on the shelf of written discs any more."));
            return _reading.Open();
        }
    }

    public Stream OpenData()
    {
        lock (_lock)
        {
            Open();
            return _reading!.Disc!.OpenData();
        }
    }

    public void Dispose() => Eject();

    private void Erase(BurnerDisc disc)
    {
        if (disc.WrittenKey is not { } key)
            return;
        _reading?.Dispose();
        _reading = null;
        WrittenDiscs.Remove(shelf, key);
        Disc = disc with { WrittenKey = null, IsOpen = false };
    }

    /// <summary>A disc on its way from blank to written: its sectors stand in a file without a cue sheet until it is finished.</summary>
    private sealed class Session : IBurnSession
    {
        private readonly SimulatedBurner _burner;
        private readonly BurnOrder _order;
        private readonly BlankDisc _blank;
        private readonly int _speed;
        private readonly string _key;
        private readonly FileStream? _file;
        private readonly TimeSpan _buffer;
        private long _bytes;
        private long? _lastWrite;
        private int _waits;
        private bool _isEnded;
        private volatile bool _isGone;

        public Session(SimulatedBurner burner, BurnOrder order, BlankDisc blank, int speed)
        {
            (_burner, _order, _blank, _speed) = (burner, order, blank, speed);
            _buffer = TimeSpan.FromSeconds((double)burner.Traits.BufferSectors / AudioDisc.SectorsPerSecond / speed);
            _key = WrittenDiscs.NextKey(burner.Shelf);
            if (!order.IsTrial)
            {
                PlainFolder.Create(burner.Shelf);
                _file = PlainFile.Open(PartPath, FileMode.Create, FileAccess.Write, bufferSize: 1 << 16);
            }
        }

        public string? Key => _order.IsTrial ? null : _key;

        private string PartPath => PathOf(".bin") + PartExtension;

        public void Write(ReadOnlySpan<byte> bytes)
        {
            if (_isGone)
                throw Spoiled($"The disc was taken out of {_burner.Traits.Name} at {Now}.");
            WatchBuffer();
            _file?.Write(bytes);
            _bytes += bytes.Length;
            if (_blank.FailsAt is { } sector && Sector >= sector && !_order.IsTrial)
                throw Spoiled($"{_burner.Traits.Name} could not follow the groove of the disc at {Now}.");
            _burner.Time.Spend(TimeSpan.FromSeconds((double)bytes.Length / _order.BytesPerSector / AudioDisc.SectorsPerSecond / _speed));
            _lastWrite = _burner.Clock.GetTimestamp();
        }

        public int Finish()
        {
            if (_isGone)
                throw Spoiled($"The disc was taken out of {_burner.Traits.Name} at {Now}.");
            if (_bytes != (long)_order.Contents.LeadOut * _order.BytesPerSector)
                throw Spoiled("Not everything was written that the table of contents says.");
            _isEnded = true;
            if (_file is null)
                return _waits;
            _file.Flush(flushToDisk: true);
            _file.Dispose();
            PlainFile.Move(PartPath, PathOf(".bin"));
            bool isData = _order.BytesPerSector != AudioDisc.BytesPerSector;
            var packs = isData ? [] : DiscTextPacks.Write(_order.Text, _order.Contents.Tracks.Count);
            if (packs.Length > 0)
                PlainFile.Write(PathOf(TextExtension), packs);
            new RackNote(_order.Label, "Burned here", _blank.Faults)
            {
                BlankKey = _blank.Key,
                IsOpen = !_order.ClosesDisc
            }.Write(_burner.Shelf, _key);
            // The disc has no text of its own but what the lead-in holds, so its sheet has none either.
            var sheet = DiscImageWriter.SheetOf(
                _order.Contents, DiscText.None, _key + ".bin", packs.Length > 0 ? _key + TextExtension : null);
            // The sheet comes last: with it the disc is on the shelf.
            PlainFile.Write(PathOf(".cue"), CueSheetWriter.WriteBytes(sheet));
            _burner.Ended(this, disc => disc with { Label = _order.Label, WrittenKey = _key, IsOpen = !_order.ClosesDisc });
            return _waits;
        }

        public void TakeAway() => _isGone = true;

        public void Dispose()
        {
            _file?.Dispose();
            if (_isEnded)
                return;
            _isEnded = true;
            if (_file is null)
                return;
            PlainFile.Delete(PartPath);
            _burner.Ended(this, disc => disc.IsRewritable ? disc : disc with { Spoiled = $"Writing ended at {Now}." });
        }

        private int Sector => (int)(_bytes / _order.BytesPerSector);

        private string Now =>
            string.Create(
                CultureInfo.InvariantCulture, $"{Sector / AudioDisc.SectorsPerSecond / 60}:{Sector / AudioDisc.SectorsPerSecond % 60:00}");

        private string PathOf(string extension) => Path.Combine(_burner.Shelf, _key + extension);

        /// <summary>What a slow source leaves in the buffer.</summary>
        private void WatchBuffer()
        {
            if (_lastWrite is not { } last || _burner.Clock.GetElapsedTime(last) <= _buffer)
                return;
            if (!_burner.Traits.CanWait)
                throw Spoiled($"The buffer of {_burner.Traits.Name} ran empty at {Now}: the sound came too slowly. Burn at a lower speed.");
            _waits++;
        }

        private BurnFailedException Spoiled(string message) => new(message) { IsDiscSpoiled = _file is not null && !_blank.IsRewritable };
    }

    private string Shelf => shelf;

    private IDriveTime Time => time;

    private TimeProvider Clock => clock;

    private void Ended(Session session, Func<BurnerDisc, BurnerDisc> change)
    {
        lock (_lock)
        {
            if (_session == session && Disc is { } disc)
                Disc = change(disc);
        }
    }
}
