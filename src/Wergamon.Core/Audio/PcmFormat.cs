namespace Wergamon.Core.Audio;

public enum SampleKind
{
    /// <summary>Signed integers, <see cref="PcmFormat.Bits"/> wide.</summary>
    Integer,

    /// <summary>IEEE 754 floats, full scale at ±1.</summary>
    Float,
}

/// <summary>Format of linear PCM.</summary>
/// <param name="Rate">Samples per second per channel.</param>
/// <param name="Channels">1 or more. A frame is one sample of each channel.</param>
/// <param name="Bits">Significant bits of a sample: 1 to 32 for integers, 32 or 64 for floats.</param>
public readonly record struct PcmFormat(SampleRate Rate, int Channels, int Bits, SampleKind Kind = SampleKind.Integer)
{
    /// <summary>Speaker of each channel; the usual ones for the channel count when omitted.</summary>
    public ChannelRoles Roles { get; init; } = ChannelRolesFacts.Usual(Channels);

    /// <summary>Bytes per sample in a file: whole bytes, as in WAV, AIFF and the FLAC sample MD5.</summary>
    public int BytesPerSample => (Bits + 7) / 8;

    public int BytesPerFrame => BytesPerSample * Channels;

    /// <summary>Uncompressed bitrate in bits per second: rate x channels x bits. 1,411,200 for an audio disc (IEC 60908).</summary>
    public long BitRate => (long)Rate.Hertz * Channels * Bits;

    public bool IsFloat => Kind == SampleKind.Float;

    public TimeSpan Duration(long frames) => TimeSpan.FromSeconds((double)frames / Rate.Hertz);

    /// <summary>"16-bit 44.1 kHz stereo", as people say it.</summary>
    public override string ToString() => $"{BitsInWords} {Rate} {ChannelsInWords}";

    public string BitsInWords => IsFloat ? $"{Bits}-bit float" : $"{Bits}-bit";

    public string ChannelsInWords => Channels switch
    {
        1 => "mono",
        2 => "stereo",
        6 when Roles.HasFlag(ChannelRoles.LowFrequency) => "5.1",
        8 when Roles.HasFlag(ChannelRoles.LowFrequency) => "7.1",
        _ => Channels + " channels",
    };
}
