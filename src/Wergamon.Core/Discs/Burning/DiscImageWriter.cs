using Wergamon.Core.Audio;

namespace Wergamon.Core.Discs.Burning;

/// <summary>Writes an audio disc as an image: raw sectors in one file, and the cue sheet that says what they are.</summary>
public static class DiscImageWriter
{
    private static readonly PcmFormat DiscFormat = new(SampleRate.AudioDisc, 2, 16);

    /// <summary>Writes the sectors of a layout in order.</summary>
    /// <param name="open">Opens a track by its place in the layout: 44.1 kHz, 16-bit, stereo, as many frames as planned.</param>
    /// <param name="sectors">Written from where it is; stays open.</param>
    /// <param name="report">Called after each stretch and within long ones, with the sectors written so far.</param>
    /// <exception cref="UnreadableAudioException">A track is not as long as planned, or has another format; what is written is no disc.</exception>
    public static void WriteSectors(DiscLayout layout, Func<int, IPcmReader> open, Stream sectors, Action<int> report)
    {
        var block = new SampleBuffer(DiscFormat);
        var bytes = new byte[block.Capacity * AudioDisc.BytesPerFrame];
        long frames = 0;
        foreach (var stretch in layout.Stretches)
        {
            using var reader = stretch.Track is { } track ? open(track) : null;
            if (reader is not null && reader.Format != DiscFormat)
                throw new UnreadableAudioException($"“{layout.Source[stretch.Track!.Value].Title}” is {reader.Format}; a disc takes 44.1 kHz, 16-bit, stereo.");
            for (long left = stretch.Frames; left > 0;)
            {
                int some = (int)Math.Min(left, block.Capacity);
                if (reader is null)
                    bytes.AsSpan(0, some * AudioDisc.BytesPerFrame).Clear();
                else if ((some = reader.Read(block)) > 0 && some <= left)
                    PcmPacking.Wav.Pack(block, bytes);
                else
                    throw OtherLength(layout, stretch);
                sectors.Write(bytes, 0, some * AudioDisc.BytesPerFrame);
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
    /// <param name="textName">The name of the file with the packs of disc text; null for none.</param>
    public static CueSheet SheetOf(DiscLayout layout, string imageName, string title, string artist, string? catalogueNumber = null, string? textName = null)
    {
        var contents = layout.Contents(catalogueNumber);
        return new CueSheet
        {
            Title = title,
            Performer = artist,
            CatalogueNumber = contents.CatalogueNumber,
            DiscTextFile = textName,
            Files = [new CueFile(imageName, "BINARY")],
            Tracks =
            [
                .. layout.Tracks.Where(track => track.Number > 0).Select((track, i) => new CueTrack(track.Number, CueTrack.Audio)
                {
                    Title = layout.SourceOf(track).Title,
                    Performer = layout.SourceOf(track).Artist,
                    Isrc = contents.Tracks[i].Isrc,
                    Indexes = [.. IndexesOf(track, isFirst: i == 0)],
                }),
            ],
        };
    }

    /// <summary>The titles of a layout as disc text.</summary>
    public static DiscText TextOf(DiscLayout layout, string title, string artist) => new(
        new DiscTextEntry { Title = title, Performer = artist },
        layout.Tracks.Where(track => track.Number > 0).ToDictionary(track => track.Number, track => new DiscTextEntry { Title = layout.SourceOf(track).Title, Performer = layout.SourceOf(track).Artist }));

    /// <summary>What is hidden before track 1 is its index 0.</summary>
    private static IEnumerable<CueIndex> IndexesOf(LaidTrack track, bool isFirst)
    {
        int pause = isFirst ? 0 : track.PauseStart;
        if (pause < track.Start)
            yield return new CueIndex(0, 0, new Msf(pause));
        yield return new CueIndex(1, 0, new Msf(track.Start));
    }

    private static UnreadableAudioException OtherLength(DiscLayout layout, DiscStretch stretch) =>
        new($"“{layout.Source[stretch.Track!.Value].Title}” is not as long as it was planned: its file has changed.");
}
