using System.IO.Hashing;
using System.Runtime.InteropServices;

namespace Wergamon.Core.Discs.Reading;

/// <summary>Reads tracks of an audio disc so that the result can be trusted.</summary>
/// <remarks>
/// <para>
/// An audio disc (IEC 60908) does not number its samples. A drive that is asked for a sector may begin some frames early or late, fills
/// what it cannot correct with something plausible, mostly without saying so, and answers a repeated request from its cache.
/// Each of these has its counter-measure here.
/// </para>
/// <list type="bullet">
/// <item>
/// Position: every read begins with a stretch that is known already and is placed by finding that stretch in it
/// (<see cref="ChunkPlacement"/>). Silence and repetition place nothing. Such a chunk is assumed to be right until the chunks after it,
/// which were placed by it, confirm or refute that (<see cref="PlaceChain"/>); if they refute it, the pass is read again from there, in the
/// end with several reads of each chunk that vote on its position.
/// </item>
/// <item>
/// Content: each section is read twice. Frames on which both readings agree are taken. The others, and those that the drive reports
/// as damaged, are read again until enough readings agree, or are marked as doubtful. Neighbouring disagreements are
/// settled together, since a reading that lost some frames shifts all that follows.
/// </item>
/// <item>
/// Cache: a section is longer than the cache, so that the second reading begins when the cache has lost its start. Where a track is
/// too short for that, other sectors are read in between; where the disc is too short even for that, the verdict says that it was
/// read once.
/// </item>
/// </list>
/// <para>
/// The verdict therefore says how the samples were obtained (<see cref="Verdict"/>), not that they are right. Only somebody else's reading
/// can show a fault that this drive makes each time in the same way.
/// </para>
/// </remarks>
public sealed class CarefulReader
{
    /// <summary>Sectors per read: half a second.</summary>
    private const int ChunkFrames = 37 * AudioDisc.FramesPerSector;

    /// <summary>Overlap in frames by which a read is placed.</summary>
    private const int PlaceFrames = AudioDisc.FramesPerSector;

    private const int MinPlaceFrames = 64;

    /// <summary>Minimum chunk in which a part can be searched for in other readings.</summary>
    private const int MinAssumedFrames = 2 * AudioDisc.FramesPerSector;

    /// <summary>Maximum restarts of a pass after a misplaced chunk; then each chunk is voted on.</summary>
    private const int MaxRestarts = 3;

    private const int ReferenceFrames = 4 * AudioDisc.FramesPerSector;

    private const int MinSectionSectors = 750;

    /// <summary>Lead in readings that a place needs before it is accepted; nothing later could correct it.</summary>
    private const int AnchorLead = 6;

    private readonly FrameSource _source;
    private readonly ReadingSettings _settings;
    private readonly IReadingListener? _listener;
    private readonly int _sectionFrames;

    /// <summary>Two readings of a section, each after <see cref="PlaceFrames"/> frames of what precedes it.</summary>
    private readonly uint[] _first;
    private readonly uint[] _second;

    /// <summary>Where the next section continues from known frames; elsewhere nothing is known yet.</summary>
    private long _knownUpTo = -1;
    private long _knownFrames;

    /// <summary>Frames whose place was voted on, for reads that nothing else can place.</summary>
    private uint[] _anchor = [];
    private long _anchorStart;

    /// <summary>False once a second reading might have come from the drive's cache.</summary>
    private bool _isIndependent;
    private List<FrameStretch> _doubtful = [];

    /// <summary>Chunks that nothing could place: assumed to be where they were requested, until confirmed.</summary>
    private readonly List<(long From, long End)> _unplaced = [];

    /// <summary>Stretches that the drive reported as damaged in either reading.</summary>
    private readonly List<(long From, long End)> _damagedFirst = [], _damagedSecond = [];
    private List<(long From, long End)> _damagedNow = [];

    public CarefulReader(IAudioDrive drive, ReadingSettings settings, IReadingListener? listener = null)
    {
        _source = new FrameSource(drive);
        _settings = settings;
        _listener = listener;
        _sectionFrames = Math.Max(
            MinSectionSectors, drive.Traits.CacheSectors + 2 * AudioDisc.SectorsPerSecond) * AudioDisc.FramesPerSector;
        _first = new uint[PlaceFrames + _sectionFrames];
        _second = settings.IsCareful ? new uint[PlaceFrames + _sectionFrames] : [];
    }

    private int MaxJitter => _source.Traits.MaxJitter;

    /// <summary>Sectors that the drive has delivered so far, overlaps and second readings included.</summary>
    public long SectorsRead => _source.SectorsRead;

    /// <summary>Reads a track and writes its audio as it is on the disc: 16-bit stereo, little endian.</summary>
    /// <exception cref="UnreadableDiscException">The disc is gone.</exception>
    /// <exception cref="OperationCanceledException">The reading was stopped; what was written is not a whole track.</exception>
    public TrackReading Read(TrackSpan span, Stream output, CancellationToken cancellation = default)
    {
        var reading = ReadOnce(span, output, cancellation);
        if (!_settings.HasSecondReading)
            return reading;
        // If this is not enough, the disc is too short to prove anything, and the first verdict has said so.
        _source.DefeatCache(span.FirstFrame, span.FirstFrame + span.Frames);
        var again = ReadOnce(span, Stream.Null, cancellation);
        return reading with { SecondCrc32 = again.Crc32, SectorsRead = reading.SectorsRead + again.SectorsRead };
    }

    private TrackReading ReadOnce(TrackSpan span, Stream output, CancellationToken cancellation)
    {
        long sectorsBefore = _source.SectorsRead;
        _source.ReportedErrors.Clear();
        _isIndependent = true;
        _doubtful = [];
        var crc = new Crc32();
        var reReads = new List<ReRead>();
        int filled = 0;
        long end = span.FirstFrame + span.Frames;
        for (long from = span.FirstFrame; from < end; from += _sectionFrames)
        {
            long to = Math.Min(end, from + _sectionFrames);
            long readableFrom = Math.Clamp(_source.FirstReadable, from, to), readableTo = Math.Clamp(_source.EndReadable, from, to);
            _first.AsSpan(PlaceFrames, (int)(to - from)).Clear();
            filled += (int)(readableFrom - from + (to - readableTo));
            if (readableFrom < readableTo)
                ReadSection(readableFrom, readableTo, (int)(readableFrom - from), reReads, span, cancellation);
            var bytes = MemoryMarshal.AsBytes(_first.AsSpan(PlaceFrames, (int)(to - from)));
            crc.Append(bytes);
            output.Write(bytes);
            RememberTail(from, to);
        }

        return new TrackReading(span.Number, span, crc.GetCurrentHashAsUInt32(), VerdictOn(reReads))
        {
            ReReads = reReads,
            Doubtful = FromTrackStart(_doubtful, span),
            Reported = [.. _source.ReportedErrors.Where(sector => sector >= span.FirstSector && sector < span.EndSector).Order()
                .Select(
                    sector => new FrameStretch((long)(sector - span.FirstSector) * AudioDisc.FramesPerSector, AudioDisc.FramesPerSector))],
            FilledFrames = filled,
            SectorsRead = _source.SectorsRead - sectorsBefore,
        };
    }

    private Verdict VerdictOn(List<ReRead> reReads) =>
        _doubtful.Count > 0 ? Verdict.Doubtful
        : !_settings.IsCareful || !_isIndependent ? Verdict.ReadOnce
        : reReads.Count > 0 ? Verdict.AgreedAfterReReads
        : Verdict.AgreedAtOnce;

    /// <summary>
    /// Reads frames of a section into <see cref="_first"/>, where they start <paramref name="offset"/> frames behind the tail.
    /// </summary>
    private void ReadSection(long from, long end, int offset, List<ReRead> reReads, TrackSpan span, CancellationToken cancellation)
    {
        _unplaced.Clear();
        _damagedFirst.Clear();
        _damagedSecond.Clear();
        int known = _knownUpTo == from && offset == 0 ? (int)_knownFrames : 0;
        var first = _first.AsSpan(PlaceFrames + offset - known, known + (int)(end - from));
        ReadPass(from, end, first, known, isSecond: false, span, cancellation);
        if (!_settings.IsCareful)
            return;
        if (end - from <= (_source.Traits.CacheSectors + 2L * AudioDisc.SectorsPerSecond - 1) * AudioDisc.FramesPerSector
            && !_source.DefeatCache(from, end))
            _isIndependent = false;
        var second = _second.AsSpan(0, first.Length);
        first[..known].CopyTo(second);
        ReadPass(from, end, second, known, isSecond: true, span, cancellation);
        var differences = Disagreements.Stretches(
            Disagreements.Between(first, second, from - known).Concat(_unplaced).Concat(DamagedWithin(from, end)),
            PlaceFrames + 2 * MaxJitter + 16);
        foreach (var together in Disagreements.Together(differences))
            Settle(together, differences, first, second, from - known, reReads, span, cancellation);
    }

    /// <summary>Frames that the drive reported as damaged in either reading are read again even if both agree.</summary>
    private IEnumerable<(long From, long End)> DamagedWithin(long from, long end) =>
        _damagedFirst.Concat(_damagedSecond)
            .Select(stretch => (From: Math.Max(from, stretch.From), End: Math.Min(end, stretch.End)))
            .Where(stretch => stretch.From < stretch.End);

    /// <summary>Reads a stretch once, chunk by chunk, each placed by the one before it.</summary>
    /// <param name="into">The stretch, behind <paramref name="known"/> frames that are known already.</param>
    private void ReadPass(long from, long end, Span<uint> into, int known, bool isSecond, TrackSpan span, CancellationToken cancellation)
    {
        long start = from - known;
        _damagedNow = isSecond ? _damagedSecond : _damagedFirst;
        var chain = new PlaceChain();
        int restarts = 0;
        bool isSure = true;
        long at = from;
        while (true)
        {
            cancellation.ThrowIfCancellationRequested();
            var by = PlacedBy.Nothing;
            int shift = 0;
            long next = Math.Min(end, at + ChunkFrames);
            if (at < end)
            {
                // An unplaced chunk cannot place the next.
                int have = isSure ? (int)Math.Min(PlaceFrames, at - start) : 0;
                (by, shift) = ReadPlaced(
                    at, next, into.Slice((int)(at - start) - have, have), at - have, into.Slice((int)(at - start), (int)(next - at)),
                    mayAssume: restarts < MaxRestarts);
            }

            if (by != PlacedBy.Neighbour || chain.IsFull)
            {
                bool isRight = !chain.IsOpen || restarts >= MaxRestarts || Confirm(chain, into, start, at);
                if (!isRight)
                {
                    restarts++;
                    at = chain.From;
                    isSure = false;
                }

                chain.Close();
                if (!isRight)
                    continue;
                if (at >= end)
                    return;
            }

            if (by == PlacedBy.Assumption)
                chain.Open(at);
            else
                chain.Add(shift);
            isSure = by != PlacedBy.Nothing;
            at = next;
            _listener?.Reached((int)Math.Min(span.EndSector, at / AudioDisc.FramesPerSector), isSecond);
        }
    }

    /// <summary>
    /// Checks a chunk whose position was assumed. Every chunk after it was placed by
    /// it, so each of them shows independently how far the drive was off; if the assumption holds, most show 0.
    /// If there are too few of them, the chunk itself is read again until there are enough. False when the chunks from the
    /// first of them on have to be read again, from an anchor where one could be set.
    /// </summary>
    private bool Confirm(PlaceChain chain, ReadOnlySpan<uint> read, long start, long end)
    {
        long chunkEnd = Math.Min(end, chain.From + ChunkFrames);
        var frames = read[(int)(chain.From - start)..(int)(chunkEnd - start)];
        if ((chain.Verdict(AnchorLead) ?? VoteOn(chain, new FrameWindow(frames, chain.From, []), chunkEnd, out _, out _)) is not { } astray)
            return false;
        RememberAnchor(new FrameWindow(frames, chain.From - astray, []), chain.From + Math.Abs(astray), chunkEnd - Math.Abs(astray), 0);
        return astray == 0;
    }

    /// <summary>Reads one chunk and puts it where it belongs.</summary>
    /// <param name="known">Frames whose place is known, from <paramref name="knownStart"/> on.</param>
    private (PlacedBy By, int Shift) ReadPlaced(
        long from, long end, ReadOnlySpan<uint> known, long knownStart, Span<uint> into, bool mayAssume)
    {
        for (int reading = 0; reading < _settings.MaxReadings; reading++)
        {
            if (reading > 0)
                _source.DefeatCache(from, end);
            var window = _source.Read(Math.Min(from, knownStart), end);
            var by = Place(window, from, end, known, knownStart, out int shift);
            // An assumption is confirmed only by the chunks that follow, which have to be placed by the end of this one.
            if (by == PlacedBy.Nothing && mayAssume && end - from >= MinAssumedFrames
                && ChunkPlacement.IsDistinct(window.Frames[^Math.Min(window.Frames.Length, PlaceFrames)..], MaxJitter))
                by = PlacedBy.Assumption;
            else if (by == PlacedBy.Nothing && VoteForPlace(from, end, out window) is { } voted)
                (by, shift) = (PlacedBy.Vote, voted);
            // Near the ends of the disc a read that starts early or late lacks a few frames, so it is repeated.
            var frames = window.Slice(from, end, shift);
            if (frames.IsEmpty)
                continue;
            frames.CopyTo(into);
            _damagedNow.AddRange(window.Damaged(shift));
            return (by, shift);
        }

        into.Clear();
        _doubtful.Add(new FrameStretch(from, end - from));
        return (PlacedBy.Nothing, 0);
    }

    private PlacedBy Place(FrameWindow window, long from, long end, ReadOnlySpan<uint> known, long knownStart, out int shift)
    {
        shift = 0;
        if (MaxJitter == 0 || !_settings.IsCareful && known.IsEmpty)
            return PlacedBy.Anchor;
        if (ChunkPlacement.Find(window, known, knownStart, MaxJitter) is { } beside)
        {
            shift = beside;
            return PlacedBy.Neighbour;
        }

        if (_anchor.Length > 0 && _anchorStart >= from && _anchorStart + _anchor.Length <= end
            && ChunkPlacement.Find(window, _anchor, _anchorStart, MaxJitter) is { } anchored)
        {
            shift = anchored;
            return PlacedBy.Anchor;
        }

        // Where all frames are alike, as in silence, any position is right.
        return !_settings.IsCareful || !window.Frames.ContainsAnyExcept(window.Frames[0]) ? PlacedBy.Anchor : PlacedBy.Nothing;
    }

    /// <summary>
    /// Places a chunk without known neighbours. It is read several times; since a drive starts right more
    /// often than at any one wrong position, the position that most readings agree on is right. If frames are so alike
    /// that no position stands out, the chunk is assumed to be where it was requested and voted on frame by frame.
    /// </summary>
    /// <param name="window">The last reading; the result is its shift, or null when no position stands out.</param>
    private int? VoteForPlace(long from, long end, out FrameWindow window)
    {
        var chain = new PlaceChain();
        chain.Open(from);
        if (VoteOn(chain, ReadUncached(from, end), end, out window, out int shift) is not { } astray)
            return null;
        RememberAnchor(window, from, end, shift - astray);
        return shift - astray;
    }

    /// <summary>
    /// Reads a chunk again until one position leads clearly among all reads of its chain; each is placed by a part of the first,
    /// which is searched for in it. Null when none does: the chunk is then voted on frame by frame.
    /// </summary>
    /// <param name="first">The read that the chain starts with.</param>
    /// <param name="window">The last of the readings.</param>
    /// <param name="shift">Its shift against the first.</param>
    private int? VoteOn(PlaceChain chain, FrameWindow first, long end, out FrameWindow window, out int shift)
    {
        int length = Math.Min(ReferenceFrames, first.Frames.Length / 2);
        int at = ChunkPlacement.MaxChanging(first.Frames[(2 * MaxJitter)..], length, first.Frames.Length - 4 * MaxJitter - length)
            + 2 * MaxJitter;
        var reference = first.Frames.Slice(at, length).ToArray();
        long referenceStart = first.NominalStart + at;
        window = first;
        shift = 0;
        int? place;
        while ((place = chain.Verdict(AnchorLead)) is null && chain.Reads < _settings.MaxReadings)
        {
            window = ReadUncached(chain.From, end);
            if (ChunkPlacement.Relative(window, reference, referenceStart, 2 * MaxJitter) is not { } relative)
                break;
            shift = relative;
            chain.Add(shift);
        }

        if (place is null)
            _unplaced.Add((chain.From, end));
        return place;
    }

    private FrameWindow ReadUncached(long from, long end)
    {
        if (!_source.DefeatCache(from, end))
            _isIndependent = false;
        return _source.Read(from, end);
    }

    private void RememberAnchor(FrameWindow window, long from, long end, int shift)
    {
        var frames = window.Slice(from, end, shift);
        if (frames.Length < PlaceFrames)
            return;
        int at = ChunkPlacement.MaxChanging(frames, PlaceFrames, frames.Length - PlaceFrames);
        (_anchor, _anchorStart) = (frames.Slice(at, PlaceFrames).ToArray(), from + at);
    }

    /// <summary>Reads stretches again until each has agreed or has been read often enough.</summary>
    private void Settle(
        List<(long From, long End)> stretches, List<(long From, long End)> all, Span<uint> first, ReadOnlySpan<uint> second, long start,
        List<ReRead> reReads, TrackSpan span, CancellationToken cancellation)
    {
        var votes = new List<FrameVote>();
        foreach (var (from, end) in stretches)
        {
            var vote = new FrameVote(from, (int)(end - from), _settings.MaxReadings)
            {
                IsUnplaced = _unplaced.Any(chunk => chunk.From < end && chunk.End > from)
            };
            vote.Add(first[(int)(from - start)..(int)(end - start)], from, _damagedFirst);
            vote.Add(second[(int)(from - start)..(int)(end - start)], from, _damagedSecond);
            votes.Add(vote);
        }

        while (votes.Any(vote => !vote.IsSettled && vote.Readings < _settings.MaxReadings))
        {
            // Nothing near the stretches may come from the drive's cache; on a short disc each is read by itself.
            bool isDefeated = _source.DefeatCache(stretches[0].From - PlaceFrames, stretches[^1].End + PlaceFrames);
            foreach (var vote in votes.Where(vote => !vote.IsSettled && vote.Readings < _settings.MaxReadings))
            {
                cancellation.ThrowIfCancellationRequested();
                if (!isDefeated && !_source.DefeatCache(vote.Start - PlaceFrames, vote.End + PlaceFrames))
                    _isIndependent = false;
                _listener?.ReadAgain((int)(vote.Open.From / AudioDisc.FramesPerSector));
                ReadAgain(vote, all, first, start);
                vote.Narrow(AgreementsOn(vote));
            }
        }

        foreach (var vote in votes)
            Conclude(vote, first[(int)(vote.Start - start)..(int)(vote.End - start)], reReads, span);
    }

    /// <summary>Reads the open part of a stretch once more, placed by the nearest frames on which both readings agreed.</summary>
    /// <param name="all">All stretches of the section that did not agree.</param>
    private void ReadAgain(FrameVote vote, List<(long From, long End)> all, ReadOnlySpan<uint> agreed, long start)
    {
        var (from, end) = vote.Open;
        var (knownFrom, knownEnd) = NearestAgreed(vote, all, start, start + agreed.Length);
        var known = agreed[(int)(knownFrom - start)..(int)(knownEnd - start)];
        var window = known.IsEmpty ? _source.Read(from, end) : _source.Read(Math.Min(from, knownFrom), Math.Max(end, knownEnd));
        // A read that nothing can place is assumed to be where it was requested: misplaced readings lose the vote if there are enough.
        if (Place(window, from, end, known, knownFrom, out int shift) == PlacedBy.Nothing)
            vote.IsUnplaced = true;
        vote.Add(window.Slice(from, end, shift), from, window.Damaged(shift));
    }

    /// <summary>Frames before a stretch, or after it if there are none; an empty range when the whole section differs.</summary>
    private static (long From, long End) NearestAgreed(FrameVote vote, List<(long From, long End)> all, long sectionFrom, long sectionEnd)
    {
        int at = all.FindIndex(stretch => stretch.From == vote.Start);
        for (int i = at; i >= 0; i--)
        {
            long least = Math.Max(i == 0 ? sectionFrom : all[i - 1].End, all[i].From - PlaceFrames);
            if (all[i].From - least >= MinPlaceFrames)
                return (least, all[i].From);
        }

        for (int i = at; i < all.Count; i++)
        {
            long most = Math.Min(i == all.Count - 1 ? sectionEnd : all[i + 1].From, all[i].End + PlaceFrames);
            if (most - all[i].End >= MinPlaceFrames)
                return (all[i].End, most);
        }

        return (sectionFrom, sectionFrom);
    }

    private int AgreementsOn(FrameVote vote) => vote.IsUnplaced ? Math.Max(_settings.Agreements, AnchorLead + 2) : _settings.Agreements;

    private void Conclude(FrameVote vote, Span<uint> result, List<ReRead> reReads, TrackSpan span)
    {
        for (int i = 0; i < result.Length; i++)
        {
            if (vote.HasVotes(vote.Start + i))
                result[i] = vote.Winner(vote.Start + i);
        }

        reReads.Add(new ReRead(new FrameStretch(vote.Start - span.FirstFrame, vote.End - vote.Start), vote.Readings - 2));
        for (long at = vote.Open.From; at < vote.Open.End;)
        {
            long end = at;
            while (end < vote.Open.End && !vote.IsAgreed(end, AgreementsOn(vote)))
                end++;
            if (end > at)
                _doubtful.Add(new FrameStretch(at, end - at));
            at = end + 1;
        }
    }

    private void RememberTail(long from, long end)
    {
        long have = _knownUpTo == from ? _knownFrames : 0;
        int length = (int)(end - from);
        _first.AsSpan(length, PlaceFrames).CopyTo(_first);
        _knownFrames = Math.Min(PlaceFrames, have + length);
        _knownUpTo = end;
    }

    private static List<FrameStretch> FromTrackStart(List<FrameStretch> stretches, TrackSpan span)
    {
        var joined = new List<FrameStretch>();
        foreach (var stretch in stretches.OrderBy(stretch => stretch.First))
        {
            long first = stretch.First - span.FirstFrame, end = first + stretch.Count;
            if (joined.Count > 0 && joined[^1].First + joined[^1].Count >= first)
                joined[^1] = joined[^1] with { Count = Math.Max(joined[^1].Count, end - joined[^1].First) };
            else
                joined.Add(new FrameStretch(first, end - first));
        }

        return joined;
    }
}
