using System.Globalization;

namespace Wergamon.Core.Discs;

/// <summary>
/// Discs with more than one session (ECMA-394, multisession): audio in the first, data in a later one. Players and rips know the first
/// alone; the gap between two sessions belongs to no track and is in no image file.
/// </summary>
public static class Sessions
{
    /// <summary>From the end of the audio of the first session to the start of the second: lead-out, lead-in and pause.</summary>
    public const int GapSectors = 11_400;

    /// <summary>Where the audio ends in front of a track with data.</summary>
    public static int AudioEndBefore(DiscTrack data) => data.Session > 1 ? data.Start - GapSectors : data.PauseStart;

    /// <summary>The tracks that the disc had before anything was added to it.</summary>
    public static IReadOnlyList<DiscTrack> First(TableOfContents contents) => [.. contents.Tracks.Where(track => track.Session == 1)];

    /// <summary>
    /// What a cue sheet leaves out of the gap before a track; part of it may be in the sheet as the pause of that track. Null where
    /// nothing is missing.
    /// </summary>
    internal static Msf? MissingGap(CueTrack? before, CueTrack track)
    {
        if (before is null || track.Session <= before.Session)
            return null;
        int stated = track.Pregap?.Sectors ?? 0;
        if (track.Indexes is [{ Number: 0 } pause, { Number: 1 } start, ..] && pause.File == start.File)
            stated += start.Time.Sectors - pause.Time.Sectors;
        return stated < GapSectors ? new Msf(GapSectors - Math.Max(0, stated)) : null;
    }

    /// <summary>The session that a remark of a cue sheet opens (common practice, no source); null for other remarks.</summary>
    /// <param name="remark">What follows REM.</param>
    internal static int? OpenedBy(string remark) =>
        remark.StartsWith("SESSION ", StringComparison.OrdinalIgnoreCase)
                && int.TryParse(remark.AsSpan(8), NumberStyles.None, CultureInfo.InvariantCulture, out int session)
                && session is > 0 and < 100
            ? session
            : null;

    /// <summary>The remark that opens a session in a cue sheet.</summary>
    internal static string Remark(int session) => string.Create(CultureInfo.InvariantCulture, $"REM SESSION {session:00}");
}
