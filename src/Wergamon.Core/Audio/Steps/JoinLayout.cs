namespace Wergamon.Core.Audio.Steps;

/// <summary>How tracks are joined to one long sound.</summary>
/// <param name="GapFrames">Silence between tracks; 0 for none.</param>
/// <param name="CrossfadeFrames">How long the end of a track sounds together with the start of the next; 0 for none, and without gaps
/// only.</param>
/// <param name="StartUnit">Where there are gaps, tracks begin at multiples of it, so that a time counted in such units is exact; 1 for
/// anywhere.</param>
public readonly record struct JoinRules(long GapFrames, long CrossfadeFrames, long StartUnit);

/// <summary>A piece of a joined sound.</summary>
/// <param name="Track">Whose frames; null for silence.</param>
/// <param name="Range">Which of them; for silence its length.</param>
/// <param name="IsCrossfade">True where the frames fade into those at the start of the next track, as many.</param>
public readonly record struct JoinPiece(int? Track, FrameRange Range, bool IsCrossfade = false);

/// <summary>Where tracks begin in a joined sound, and what it is made of.</summary>
public sealed record JoinLayout
{
    private JoinLayout(IReadOnlyList<JoinPiece> pieces, IReadOnlyList<long> starts, long frames) =>
        (Pieces, Starts, Frames) = (pieces, starts, frames);

    public IReadOnlyList<JoinPiece> Pieces { get; }

    /// <summary>The frame at which each track begins; in a crossfade where it begins to be heard.</summary>
    public IReadOnlyList<long> Starts { get; }

    public long Frames { get; }

    /// <param name="lengths">Of each track in frames, none empty.</param>
    public static JoinLayout Of(IReadOnlyList<long> lengths, JoinRules rules)
    {
        var pieces = new List<JoinPiece>();
        var starts = new List<long>();
        long at = 0, taken = 0;
        void Add(JoinPiece piece)
        {
            if (piece.Range.Count > 0)
                pieces.Add(piece);
            at += piece.Range.Count;
        }

        for (int i = 0; i < lengths.Count; i++)
        {
            starts.Add(at - taken);
            bool isLast = i == lengths.Count - 1;
            // At most half of a track fades on either side.
            long fade = isLast || rules.GapFrames > 0 ? 0 : Math.Min(rules.CrossfadeFrames, Math.Min(lengths[i], lengths[i + 1]) / 2);
            Add(new JoinPiece(i, new FrameRange(taken, lengths[i] - taken - fade)));
            Add(new JoinPiece(i, new FrameRange(lengths[i] - fade, fade), IsCrossfade: true));
            taken = fade;
            if (!isLast && rules.GapFrames > 0)
                Add(
                    new JoinPiece(
                        null,
                        new FrameRange(
                            0, rules.GapFrames + (rules.StartUnit - (at + rules.GapFrames) % rules.StartUnit) % rules.StartUnit)));
        }

        return new JoinLayout(pieces, starts, at);
    }

    /// <summary>The sound of a piece.</summary>
    /// <param name="format">Of all tracks.</param>
    /// <param name="open">Opens a track.</param>
    public static IPcmReader Open(JoinPiece piece, PcmFormat format, Func<int, IPcmReader> open) =>
        piece.Track is not { } track ? new SilenceReader(format, piece.Range.Count)
        : !piece.IsCrossfade ? new RangeReader(open(track), piece.Range)
        : new CrossfadeReader(
            new RangeReader(open(track), piece.Range), new RangeReader(open(track + 1), piece.Range with { Start = 0 }), piece.Range.Count);
}
