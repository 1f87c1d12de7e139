using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;

namespace Wergamon.Core.Formats.Ogg;

/// <summary>What an identification packet states.</summary>
/// <param name="Codec">As <see cref="AudioFacts.CodecName"/> has it.</param>
/// <param name="Frames">Null where only the last page tells.</param>
/// <param name="Skipped">Samples at the start that a decoder discards.</param>
internal sealed record OggIdentity(string Codec, PcmFormat Format, long? Frames, int Skipped, bool IsVariable)
{
    /// <summary>Of a lossy codec; null when the packet was too short or its figures cannot be true.</summary>
    public static OggIdentity? OfLossy(ByteCursor read, string codec, int channels, uint rate, int skipped, bool isVariable) =>
        read.IsPastEnd || !HeaderLimits.IsSound(channels, rate)
            ? null
            : new OggIdentity(codec, new PcmFormat(new SampleRate((int)rate), channels, 32, SampleKind.Float), null, skipped, isVariable);
}
