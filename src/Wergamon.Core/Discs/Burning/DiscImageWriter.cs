using Wergamon.Core.Audio;

namespace Wergamon.Core.Discs.Burning;

/// <summary>Receives what is written to a disc, in order.</summary>
/// <param name="bytes">Not kept after the call.</param>
public delegate void SectorSink(ReadOnlySpan<byte> bytes);

/// <summary>Writes an audio disc: raw sectors, and the cue sheet that describes them.</summary>
public static class DiscImageWriter
{
    /// <summary>Sectors of 2,048 bytes, without what the disc adds to them.</summary>
    private const string DataMode = "MODE1/2048";

    private static readonly PcmFormat DiscFormat = new(SampleRate.AudioDisc, 2, 16);

    /// <summary>Writes the sectors of a layout in order.</summary>
    /// <param name="open">Opens a track by its place in the layout: 44.1 kHz, 16-bit, stereo, as many frames as planned.</param>
    /// <param name="sectors">Gets whole frames.</param>
    /// <param name="report">Called after each stretch and within long ones, with the sectors written so far.</param>
    /// <exception cref="UnreadableAudioException">A track is not as long as planned, or has another format; what is written is no
    /// disc.</exception>
    public static void WriteSectors(DiscLayout layout, Func<int, IPcmReader> open, SectorSink sectors, Action<int> report)
    {
        var block = new SampleBuffer(DiscFormat);
        var bytes = new byte[block.Capacity * AudioDisc.BytesPerFrame];
        long frames = 0;
        foreach (var stretch in layout.Stretches)
        {
            using var reader = stretch.Track is { } track ? open(track) : null;
            if (reader is not null && reader.Format != DiscFormat)
                throw new UnreadableAudioException(
                    $"“{layout.Source[stretch.Track!.Value].Title}” is {reader.Format}; a disc takes 44.1 kHz, 16-bit, stereo.");
            for (long left = stretch.Frames; left > 0;)
            {
                int some = (int)Math.Min(left, block.Capacity);
                if (reader is null)
                    bytes.AsSpan(0, some * AudioDisc.BytesPerFrame).Clear();
                else if ((some = reader.Read(block)) > 0 && some <= left)
                    PcmPacking.Wav.Pack(block, bytes);
                else
                    throw OtherLength(layout, stretch);
                sectors(bytes.AsSpan(0, some * AudioDisc.BytesPerFrame));
                left -= some;
                frames += some;
                report((int)(frames / AudioDisc.FramesPerSector));
            }

            if (reader?.Read(block) > 0)
                throw OtherLength(layout, stretch);
        }
    }

    /// <summary>The cue sheet of an image.</summary>
    /// <param name="imageName">The name of the file with the sectors.</param>
    /// <param name="text">As the disc will carry it; the sheet itself can hold all scripts.</param>
    /// <param name="textName">The name of the file with the packs of disc text; null for none.</param>
    public static CueSheet SheetOf(TableOfContents contents, DiscText text, string imageName, string? textName = null) => new()
    {
        Title = text.Album.Title,
        Performer = text.Album.Performer,
        CatalogueNumber = contents.CatalogueNumber,
        DiscTextFile = textName,
        Files = [new CueFile(imageName, "BINARY")],
        Tracks =
        [
            .. contents.Tracks.Select(track => new CueTrack(track.Number, track.IsAudio ? CueTrack.Audio : DataMode)
            {
                Title = text.Tracks.GetValueOrDefault(track.Number)?.Title,
                Performer = text.Tracks.GetValueOrDefault(track.Number)?.Performer,
                Isrc = track.Isrc,
                Indexes =
                [
                    .. track.PauseStart < track.Start ? [new CueIndex(0, 0, new Msf(track.PauseStart))] : Array.Empty<CueIndex>(),
                    new CueIndex(1, 0, new Msf(track.Start)),
                    .. track.MoreIndexes.Select((sector, i) => new CueIndex(i + 2, 0, new Msf(sector))),
                ],
            }),
        ],
    };

    /// <summary>The titles of a layout as disc text.</summary>
    public static DiscText TextOf(DiscLayout layout, string title, string artist) => new(
        new DiscTextEntry { Title = Given(title), Performer = Given(artist) },
        layout.Tracks.Where(track => track.Number > 0)
            .ToDictionary(
                track => track.Number,
                track =>
                    new DiscTextEntry { Title = Given(layout.SourceOf(track).Title), Performer = Given(layout.SourceOf(track).Artist) }));

    private static string? Given(string text) => text.Length == 0 ? null : text;

    private static UnreadableAudioException OtherLength(DiscLayout layout, DiscStretch stretch) =>
        new($"“{layout.Source[stretch.Track!.Value].Title}” is not as long as planned: its file has changed.");
}
