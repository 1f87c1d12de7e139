using Wergamon.Core.Audio;
using Wergamon.Core.Audio.Resampling;
using Wergamon.Core.Audio.Steps;

namespace Wergamon.Core.Analysis.Comparing;

/// <summary>The sample rate and the channels in which two sounds can be subtracted.</summary>
/// <param name="Rate">The higher of both, so that what only one of them has at the top counts.</param>
/// <param name="Channels">Those of both; stereo where they differ.</param>
public sealed record CommonFormat(SampleRate Rate, int Channels)
{
    public static CommonFormat Of(PcmFormat one, PcmFormat other) => new(
        one.Rate.Hertz >= other.Rate.Hertz ? one.Rate : other.Rate,
        one.Channels == other.Channels ? one.Channels : 2);

    /// <summary>Mono on both sides, surround folded down, rates converted; a sound that fits passes unchanged.</summary>
    /// <param name="source">Owned from now on.</param>
    /// <exception cref="UnreadableAudioException">Its channels have no known place and cannot be folded down.</exception>
    public IPcmReader Apply(IPcmReader source)
    {
        var reader = source;
        if (reader.Format.Channels == 1 && Channels == 2)
            reader = new ChannelMapReader(reader, [0, 0], ChannelRolesFacts.Usual(2));
        else if (reader.Format.Channels != Channels)
            reader = new DownmixReader(reader);
        if (reader.Format.Rate != Rate)
            reader = new ResamplingReader(reader, Rate);
        return reader.Format is { IsFloat: true, Bits: 64 } && reader != source ? new SinglePrecisionReader(reader) : reader;
    }
}
