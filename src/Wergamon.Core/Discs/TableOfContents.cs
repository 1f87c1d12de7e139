using System.Text.Json.Serialization;

namespace Wergamon.Core.Discs;

/// <summary>Table of contents of a disc.</summary>
/// <param name="Tracks">At least one, in rising order of number and place.</param>
/// <param name="LeadOut">The sector after the last.</param>
public sealed record TableOfContents(IReadOnlyList<DiscTrack> Tracks, int LeadOut)
{
    public string? CatalogueNumber { get; init; }

    [JsonIgnore]
    public IEnumerable<DiscTrack> AudioTracks => Tracks.Where(track => track.IsAudio);

    /// <summary>Where the audio ends: the lead-out, or the end of the first session when a data session follows.</summary>
    [JsonIgnore]
    public int AudioEnd
    {
        get
        {
            int last = AudioTracks.Any() ? AudioTracks.Last().Number : 0;
            var after = Tracks.FirstOrDefault(track => track.Number > last);
            return after is null ? LeadOut : Sessions.AudioEndBefore(after);
        }
    }

    /// <summary>Sectors of sound before track 1, where a hidden track may be; 0 on most discs.</summary>
    [JsonIgnore]
    public int HiddenSectors => Tracks[0].IsAudio ? Tracks[0].Start : 0;

    /// <summary>Where a track ends and the next one begins, without its pause.</summary>
    public int EndOf(DiscTrack track)
    {
        var next = Tracks.FirstOrDefault(other => other.Number > track.Number);
        if (next is null)
            return LeadOut;
        return track.IsAudio && !next.IsAudio ? AudioEnd : next.Start;
    }

    public int LengthOf(DiscTrack track) => EndOf(track) - track.Start;

    /// <summary>What is wrong with the table, for a person; null when it is valid.</summary>
    public string? Complaint()
    {
        if (Tracks.Count is 0 or > AudioDisc.MaxTracks)
            return $"A disc has 1 to {AudioDisc.MaxTracks} tracks, not {Tracks.Count}.";
        int before = -1;
        for (int i = 0; i < Tracks.Count; i++)
        {
            var track = Tracks[i];
            if (track.Number is < 1 or > AudioDisc.MaxTracks || (i > 0 && track.Number != Tracks[i - 1].Number + 1))
                return $"Track {track.Number} does not follow the one before it.";
            if (track.PauseStart < 0 || track.PauseStart > track.Start || track.Start <= before)
                return $"Track {track.Number} starts before the one before it ends.";
            before = track.Start;
        }

        if (LeadOut <= before)
            return "The disc ends before its last track starts.";
        return AudioTracks.FirstOrDefault(track => LengthOf(track) <= 0) is { } empty
            ? $"Track {empty.Number} has no length: the session behind it starts too early."
            : null;
    }
}
