using Wergamon.Core.Audio;

namespace Wergamon.Core.Formats.Iff;

/// <summary>Position and format of the PCM in a file.</summary>
internal sealed record PcmLayout(PcmFormat Format, PcmPacking Packing, long Offset, long Length, List<string> Damage)
{
    /// <summary>True when the header says which loudspeaker each channel is for.</summary>
    public bool HasStatedRoles { get; init; }

    public const int MaxChannels = 64;
    public const int HighestRate = 10_000_000;

    /// <summary>Rejects impossible numbers before anything is allocated by them.</summary>
    public static void CheckNumbers(int channels, int rate, int bits, string what)
    {
        if (channels is < 1 or > MaxChannels)
            throw new UnreadableAudioException($"The {what} header says {channels} channels, which is impossible.");
        if (rate is < 1 or > HighestRate)
            throw new UnreadableAudioException($"The {what} header says a sample rate of {rate} Hz, which is impossible.");
        if (bits is < 1 or > 64)
            throw new UnreadableAudioException($"The {what} header says {bits} bits per sample, which is impossible.");
    }

    public static void NoteCut(ChunkPosition sound, List<string> damage)
    {
        if (sound.IsCutShort)
            damage.Add($"The audio is cut short: the header says {sound.DeclaredLength} bytes, {sound.Length} are there.");
    }
}
