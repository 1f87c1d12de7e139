using Wergamon.Core.Formats.Wav;

namespace Wergamon.Core.Discs;

/// <summary>
/// A disc in files: sectors that a cue sheet assembles from raw images (2,352 bytes a sector), WAV files and
/// pauses that are in no file.
/// </summary>
public sealed class DiscImage : IDisposable
{
    private readonly List<Piece> _pieces = [];
    private readonly List<Stream> _streams = [];

    private DiscImage(TableOfContents contents, CueSheet sheet) => (Contents, Sheet) = (contents, sheet);

    public TableOfContents Contents { get; private init; }

    public CueSheet Sheet { get; }

    /// <summary>Puts the image together.</summary>
    /// <param name="sheet">Describes it.</param>
    /// <param name="open">Opens one of its files by the name in the sheet; null when it does not exist.</param>
    /// <exception cref="UnreadableDiscException">The sheet does not describe a disc that could be read; the message says why.</exception>
    public static DiscImage Open(CueSheet sheet, Func<string, Stream?> open)
    {
        var assembly = new Assembly(sheet);
        var image = new DiscImage(new TableOfContents([], 0), sheet);
        try
        {
            foreach (var file in sheet.Files)
                assembly.AddFile(file, open, image._streams);
            var contents = assembly.Build(image._pieces);
            return contents.Complaint() is { } complaint ? throw new UnreadableDiscException(complaint) : image.With(contents);
        }
        catch
        {
            image.Dispose();
            throw;
        }
    }

    /// <summary>Reads raw sectors. Positions outside the image, and parts missing from its files, read as zeros.</summary>
    /// <param name="into">A multiple of 2,352 bytes.</param>
    public void Read(int firstSector, Span<byte> into)
    {
        lock (_streams)
            ReadPieces(firstSector, into);
    }

    private void ReadPieces(int firstSector, Span<byte> into)
    {
        int end = firstSector + into.Length / AudioDisc.BytesPerSector;
        int at = firstSector;
        foreach (var piece in _pieces)
        {
            int from = Math.Max(at, piece.FirstSector);
            int to = Math.Min(end, piece.FirstSector + piece.Sectors);
            if (from >= to)
                continue;
            Sectors(into, at - firstSector, from - firstSector).Clear();
            ReadPiece(piece, from, Sectors(into, from - firstSector, to - firstSector));
            at = to;
        }

        Sectors(into, at - firstSector, end - firstSector).Clear();
    }

    private static Span<byte> Sectors(Span<byte> bytes, int from, int to) =>
        bytes[(from * AudioDisc.BytesPerSector)..(to * AudioDisc.BytesPerSector)];

    private static void ReadPiece(Piece piece, int firstSector, Span<byte> into)
    {
        if (piece.Stream is not { } stream)
        {
            into.Clear();
            return;
        }

        stream.Position = piece.Offset + (long)(firstSector - piece.FirstSector) * piece.SectorLength;
        if (piece.SectorLength == AudioDisc.BytesPerSector)
            into[stream.ReadAtLeast(into, into.Length, throwOnEndOfStream: false)..].Clear();
        else
            ReadCooked(stream, piece.SectorLength, into);
        if (piece.IsBigEndian)
            SwapPairs(into);
    }

    public void Dispose()
    {
        foreach (var stream in _streams)
            stream.Dispose();
    }

    private DiscImage With(TableOfContents contents)
    {
        var image = new DiscImage(contents, Sheet);
        image._pieces.AddRange(_pieces);
        image._streams.AddRange(_streams);
        return image;
    }

    /// <summary>Sectors of 2,048 bytes hold data alone and are placed as in a raw sector of mode 1.</summary>
    private static void ReadCooked(Stream stream, int length, Span<byte> into)
    {
        into.Clear();
        for (; !into.IsEmpty; into = into[AudioDisc.BytesPerSector..])
            stream.ReadAtLeast(into.Slice(DataSectors.HeaderLength, length), length, throwOnEndOfStream: false);
    }

    private static void SwapPairs(Span<byte> bytes)
    {
        for (int i = 0; i + 1 < bytes.Length; i += 2)
            (bytes[i], bytes[i + 1]) = (bytes[i + 1], bytes[i]);
    }

    /// <summary>Consecutive sectors from one file; silence without a stream.</summary>
    private readonly record struct Piece(int FirstSector, int Sectors, Stream? Stream, long Offset, int SectorLength, bool IsBigEndian);

    private sealed record OpenFile(Stream Stream, long Offset, long Length, bool IsBigEndian);

    /// <summary>Lays out the files and pauses of a sheet in sequence.</summary>
    private sealed class Assembly(CueSheet sheet)
    {
        private readonly List<OpenFile> _files = [];
        private int _sector;

        public void AddFile(CueFile file, Func<string, Stream?> open, List<Stream> streams)
        {
            if (file.Kind is not ("BINARY" or "MOTOROLA" or "WAVE"))
                throw new UnreadableDiscException(
                    $"The image file {file.Name} is of kind {file.Kind}; raw images and WAV files can be read.");
            var stream = open(file.Name) ?? throw new UnreadableDiscException($"The image file {file.Name} is missing.");
            streams.Add(stream);
            if (file.Kind != "WAVE")
            {
                _files.Add(new OpenFile(stream, 0, stream.Length, file.Kind == "MOTOROLA"));
                return;
            }

            if (WavReader.FindSound(stream) is not { } sound
                || sound.Format is not { Rate.Hertz: 44_100, Channels: 2, Bits: 16, IsFloat: false })
                throw new UnreadableDiscException($"The image file {file.Name} is not a WAV file of 44.1 kHz, 16-bit, stereo.");
            _files.Add(new OpenFile(stream, sound.Offset, sound.Length, false));
        }

        public TableOfContents Build(List<Piece> pieces)
        {
            var tracks = new List<DiscTrack>();
            for (int i = 0; i < sheet.Tracks.Count; i++)
            {
                AddSilence(Sessions.MissingGap(i > 0 ? sheet.Tracks[i - 1] : null, sheet.Tracks[i]), pieces);
                tracks.Add(AddTrack(sheet.Tracks[i], i, pieces));
            }

            if (tracks.Count == 0)
                throw new UnreadableDiscException("The cue sheet names no track.");
            return new TableOfContents(tracks, _sector)
            {
                CatalogueNumber = DiscCodes.IsCatalogueNumber(sheet.CatalogueNumber) ? sheet.CatalogueNumber : null
            };
        }

        private DiscTrack AddTrack(CueTrack cue, int position, List<Piece> pieces)
        {
            if (cue.Indexes.Count == 0 || cue.Indexes.All(index => index.Number != 1))
                throw new UnreadableDiscException($"Track {cue.Number} has no INDEX 01, so its start is not known.");
            int length = SectorLengthOf(cue.Mode);
            int pauseStart = _sector;
            AddSilence(cue.Pregap, pieces);
            var places = new Dictionary<int, int>();
            for (int i = 0; i < cue.Indexes.Count; i++)
            {
                var index = cue.Indexes[i];
                var next = i + 1 < cue.Indexes.Count
                    ? cue.Indexes[i + 1]
                    : position + 1 < sheet.Tracks.Count
                    ? FirstIndexOf(sheet.Tracks[position + 1])
                    : default;
                // What comes before the first index of a file belongs to the first track that starts in it.
                bool opensFile = position == 0 && i == 0
                    || index.File > (i > 0 ? cue.Indexes[i - 1].File : sheet.Tracks[position - 1].Indexes[^1].File);
                int from = opensFile ? 0 : index.Time.Sectors;
                int to = next.Number + next.Time.Sectors + next.File > 0 && next.File == index.File
                    ? next.Time.Sectors
                    : SectorsIn(index.File, length);
                if (to < index.Time.Sectors || index.Time.Sectors < from)
                    throw new UnreadableDiscException(
                        $"Track {cue.Number} of the cue sheet has times out of order, or its image file is too short.");
                places[index.Number] = _sector + index.Time.Sectors - from;
                AddPiece(index.File, from, to - from, length, pieces);
            }

            AddSilence(cue.Postgap, pieces);
            int start = places[1];
            return new DiscTrack(cue.Number, cue.IsAudio, start)
            {
                PauseStart = places.TryGetValue(0, out int pause) ? Math.Min(pause, start) : cue.Pregap is null ? start : pauseStart,
                MoreIndexes = [.. places.Where(place => place.Key > 1).OrderBy(place => place.Key).Select(place => place.Value)],
                Session = cue.Session,
                HasPreEmphasis = cue.Flags.Contains("PRE"),
                IsCopyPermitted = cue.Flags.Contains("DCP"),
                Isrc = DiscCodes.NormaliseIsrc(cue.Isrc),
            };
        }

        private static CueIndex FirstIndexOf(CueTrack track) => track.Indexes.Count > 0 ? track.Indexes[0] : default;

        private void AddSilence(Msf? length, List<Piece> pieces)
        {
            if (length is not { Sectors: > 0 } silence)
                return;
            pieces.Add(new Piece(_sector, silence.Sectors, null, 0, AudioDisc.BytesPerSector, false));
            _sector += silence.Sectors;
        }

        private void AddPiece(int file, int fromSector, int sectors, int length, List<Piece> pieces)
        {
            var from = _files[file];
            pieces.Add(new Piece(_sector, sectors, from.Stream, from.Offset + (long)fromSector * length, length, from.IsBigEndian));
            _sector += sectors;
        }

        private int SectorsIn(int file, int length) => (int)Math.Min((_files[file].Length + length - 1) / length, int.MaxValue / 2);

        private static int SectorLengthOf(string mode) => mode switch
        {
            CueTrack.Audio => AudioDisc.BytesPerSector,
            _ when mode.EndsWith("/2352", StringComparison.Ordinal) => AudioDisc.BytesPerSector,
            _ when mode.EndsWith("/2048", StringComparison.Ordinal) => DataSectors.DataLength,
            _ => throw new UnreadableDiscException($"Tracks of kind {mode} cannot be read."),
        };
    }
}
