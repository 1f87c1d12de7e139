using System.Text.Json;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Registry;

namespace Wergamon.App.Tracks;

/// <summary>What the database keeps of a copy's sound; <see cref="Facts"/> puts it in the terms of the job.</summary>
public sealed record CopySound
{
    /// <summary>In terms of c, the copy. The first must not be null: a row without it would have no sound.</summary>
    internal const string Columns =
        "c.file_format, c.codec_name, c.sample_rate, c.channels, c.channel_roles, c.bits, c.is_float, c.frame_count, c.is_lossless, "
        + "c.kilobits_per_second, c.is_variable, c.damage, c.streams";

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

    public string? Damage { get; init; }

    /// <summary>The facts of each stream of sound as JSON, where the file has several.</summary>
    public string? Streams { get; init; }

    public AudioFacts Facts
    {
        get
        {
            var kind = IsFloat ? SampleKind.Float : SampleKind.Integer;
            var format = new PcmFormat(new SampleRate(SampleRate), Channels, Bits, kind) { Roles = (ChannelRoles)ChannelRoles };
            return new AudioFacts(FileFormats.Find(FileFormat), CodecName, format, FrameCount, IsLossless, KilobitsPerSecond)
            {
                IsVariableBitRate = IsVariable,
                Damage = Damage is null ? [] : [Damage],
                Streams = Streams is null ? [] : JsonSerializer.Deserialize(Streams, TracksJson.Default.IReadOnlyListSoundStream) ?? [],
            };
        }
    }
}
