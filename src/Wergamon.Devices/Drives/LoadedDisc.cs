using Wergamon.Core.Bytes;
using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Iso9660;
using Wergamon.Core.Discs.Surround;

namespace Wergamon.Devices.Drives;

/// <summary>A disc in a drive.</summary>
/// <param name="Key">Its key on the rack.</param>
public sealed record LoadedDisc(string Key, string Label, DiscImage Image) : IDisposable
{
    /// <summary>Disc text from the lead-in; most discs have none.</summary>
    public DiscText Text { get; init; } = DiscText.None;

    public IReadOnlyList<DiscFault> Faults { get; init; } = [];

    /// <summary>Multichannel titles on a data disc; empty on others.</summary>
    public IReadOnlyList<SurroundTitle> Titles { get; init; } = [];

    /// <summary>Opens a file on a data disc.</summary>
    public Stream OpenFile(IsoFile file) => new PartStream(OpenData(), file.Offset, file.Length);

    /// <summary>The sectors of a data disc.</summary>
    /// <exception cref="UnreadableDiscException">Its first track is sound.</exception>
    public Stream OpenData() =>
        Image.Contents.Tracks[0] is { IsAudio: false } track
            ? new DataTrackStream(Image, track)
            : throw new UnreadableDiscException("This is no data disc.");

    /// <summary>Finds multichannel titles on a disc without audio tracks.</summary>
    public LoadedDisc WithTitles()
    {
        if (Image.Contents.AudioTracks.Any() || IsoVolume.TryRead(OpenData()) is not { } volume)
            return this;
        return this with { Titles = SurroundTitles.Find(volume.Files, OpenFile) };
    }

    public void Dispose() => Image.Dispose();
}
