using System.Text.Json;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Matching;
using Wergamon.Core.Planning;

namespace Wergamon.App.Tracks;

/// <summary>One audio file that holds a track.</summary>
public sealed record CopyRow
{
    public const string Columns =
        "c.id, c.track_id, c.path, c.file_format, c.codec_name, c.sample_rate, c.channels, c.channel_roles, c.bits, c.is_float, "
            + "c.frame_count, c.is_lossless, "
        + "c.kilobits_per_second, c.is_variable, c.fidelity, c.generation, c.file_bytes, c.damage, c.is_missing, c.real_bits, "
        + "c.real_rate, c.folder_cover_path, c.tags_total, "
        + "c.tags_from_name, c.added_at, c.streams, c.folder_id, c.modified_at, "
        + "EXISTS (SELECT 1 FROM lineage l JOIN copy s ON s.id = l.from_copy_id WHERE l.copy_id = c.id AND s.track_id = c.track_id "
        + "AND NOT s.is_missing AND NOT s.is_trashed) AS is_made_from_another";

    public long Id { get; init; }

    public long TrackId { get; init; }

    public string Path { get; init; } = "";

    /// <summary>The key of its format; empty for a file that only a decoder knows.</summary>
    public string FileFormat { get; init; } = "";

    public string CodecName { get; init; } = "";

    public int SampleRate { get; init; }

    public int Channels { get; init; }

    public long ChannelRoles { get; init; }

    public int Bits { get; init; }

    public bool IsFloat { get; init; }

    public long FrameCount { get; init; }

    public bool IsLossless { get; init; }

    public int KilobitsPerSecond { get; init; }

    /// <summary>Null if the header of the file does not say.</summary>
    public bool? IsVariable { get; init; }

    public Fidelity Fidelity { get; init; }

    public int Generation { get; init; }

    public long FileBytes { get; init; }

    public string? Damage { get; init; }

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

    /// <summary>The facts of each stream of sound as JSON, where the file has several.</summary>
    public string? Streams { get; init; }

    /// <summary>Orders the copies of a track; the least is the master copy.</summary>
    public MasterRank Rank => new()
    {
        IsMissing = IsMissing,
        Generation = Generation,
        IsMadeFromAnother = IsMadeFromAnother,
        IsLossless = IsLossless,
        Fidelity = Fidelity,
        Bits = RealBits ?? Bits,
        Rate = RealRate ?? SampleRate,
        Channels = Channels,
        TagCount = TagsTotal - TagsFromName,
        CopyId = Id,
    };

    public AudioFacts Facts
    {
        get
        {
            var kind = IsFloat ? SampleKind.Float : SampleKind.Integer;
            var format = new PcmFormat(
                new Core.Audio.SampleRate(SampleRate), Channels, Bits, kind)
            { Roles = (Core.Audio.ChannelRoles)ChannelRoles };
            return new AudioFacts(FileFormats.Find(FileFormat), CodecName, format, FrameCount, IsLossless, KilobitsPerSecond)
            {
                IsVariableBitRate = IsVariable,
                Damage = Damage is null ? [] : [Damage],
                Streams = Streams is null ? [] : JsonSerializer.Deserialize(Streams, TracksJson.Default.IReadOnlyListSoundStream) ?? [],
            };
        }
    }
}
