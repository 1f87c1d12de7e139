using System.Text.Json;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Registry;
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
        + "c.tags_from_name, c.added_at, c.streams, c.folder_id, c.modified_at";

    /// <summary>
    /// The order from master copy on: what is there before what is missing, fewer lossy generations, then what was not made from
    /// another copy that is still there (a WAV made from an MP3 holds no more than the MP3), then what is nearest to the source by
    /// what its sound really holds, then what knows more of itself, then what came first.
    /// </summary>
    public const string MasterFirst =
        "c.is_missing, c.generation, "
        + "EXISTS (SELECT 1 FROM lineage l JOIN copy s ON s.id = l.from_copy_id WHERE l.copy_id = c.id AND s.track_id = c.track_id "
        + "AND NOT s.is_missing AND NOT s.is_trashed), "
        + "c.is_lossless DESC, c.fidelity, COALESCE(c.real_bits, c.bits) DESC, COALESCE(c.real_rate, c.sample_rate) DESC, c.channels "
        + "DESC, c.tags_total - c.tags_from_name DESC, c.id";

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

    /// <summary>Null where the header of the file does not tell.</summary>
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

    public string? FolderCoverPath { get; init; }

    public int TagsTotal { get; init; }

    public int TagsFromName { get; init; }

    public long AddedAt { get; init; }

    /// <summary>The music folder that it lies in; null outside of them.</summary>
    public long? FolderId { get; init; }

    /// <summary>When the file was last changed, in Unix milliseconds.</summary>
    public long ModifiedAt { get; init; }

    /// <summary>The facts of each stream of sound as JSON, where the file has several.</summary>
    public string? Streams { get; init; }

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
