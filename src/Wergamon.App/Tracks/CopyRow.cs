using Wergamon.Core.Formats;
using Wergamon.Core.Matching;
using Wergamon.Core.Planning;

namespace Wergamon.App.Tracks;

/// <summary>One audio file that holds a track.</summary>
public sealed record CopyRow
{
    /// <summary>In terms of c, the copy.</summary>
    internal const string Columns =
        "c.id, c.track_id, c.path, c.fidelity, c.generation, c.file_bytes, c.is_missing, c.real_bits, c.real_rate, c.folder_cover_path, "
        + "c.tags_total, c.tags_from_name, c.added_at, c.folder_id, c.modified_at, "
        + "EXISTS (SELECT 1 FROM lineage l JOIN copy s ON s.id = l.from_copy_id WHERE l.copy_id = c.id AND s.track_id = c.track_id "
        + "AND NOT s.is_missing AND NOT s.is_trashed) AS is_made_from_another";

    public long Id { get; init; }

    public long TrackId { get; init; }

    public string Path { get; init; } = "";

    public CopySound Sound { get; init; } = new();

    public AudioFacts Facts => Sound.Facts;

    public Fidelity Fidelity { get; init; }

    public int Generation { get; init; }

    public long FileBytes { get; init; }

    public bool IsMissing { get; init; }

    /// <summary>How many of its bits the sound uses, 0 for silence; null before the analysis.</summary>
    public int? RealBits { get; init; }

    /// <summary>The lowest usual rate that holds all of the sound, in hertz; null before the analysis.</summary>
    public int? RealRate { get; init; }

    /// <summary>True when it was made here from another copy of its track that still exists.</summary>
    public bool IsMadeFromAnother { get; init; }

    public string? FolderCoverPath { get; init; }

    public int TagsTotal { get; init; }

    public int TagsFromName { get; init; }

    public long AddedAt { get; init; }

    /// <summary>The music folder that it is in; null outside of them.</summary>
    public long? FolderId { get; init; }

    /// <summary>When the file was last changed, in Unix milliseconds.</summary>
    public long ModifiedAt { get; init; }

    /// <summary>Orders the copies of a track; the least is the master copy.</summary>
    public MasterRank Rank => new()
    {
        IsMissing = IsMissing,
        Generation = Generation,
        IsMadeFromAnother = IsMadeFromAnother,
        IsLossless = Sound.IsLossless,
        Fidelity = Fidelity,
        Bits = RealBits ?? Sound.Bits,
        Rate = RealRate ?? Sound.SampleRate,
        Channels = Sound.Channels,
        TagCount = TagsTotal - TagsFromName,
        CopyId = Id,
    };
}
