namespace Wergamon.Core.Discs;

/// <summary>The numbers of the audio disc (IEC 60908).</summary>
public static class AudioDisc
{
    public const int SectorsPerSecond = 75;

    /// <summary>Stereo frames in a sector.</summary>
    public const int FramesPerSector = 588;

    public const int BytesPerSector = 2352;

    /// <summary>Two samples of 16 bits.</summary>
    public const int BytesPerFrame = BytesPerSector / FramesPerSector;

    /// <summary>The pause before the first track, which addresses leave out: sector 0 is at 00:02:00 on the disc.</summary>
    public const int LeadInPauseSectors = 150;

    public const int MaxTracks = 99;

    /// <summary>A track lasts at least four seconds.</summary>
    public const int MinTrackSectors = 4 * SectorsPerSecond;
}
