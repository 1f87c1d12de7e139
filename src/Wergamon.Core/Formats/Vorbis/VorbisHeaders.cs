namespace Wergamon.Core.Formats.Vorbis;

/// <summary>Identification and setup packet of a stream.</summary>
internal sealed record VorbisHeaders(byte[] Identification, byte[] Setup)
{
    /// <summary>
    /// Splits the three header packets that encoders give as one block: their number less one, the lengths of the first two in
    /// the lacing of Ogg, then the packets (common practice, no source). Null when it is none.
    /// </summary>
    public static VorbisHeaders? Split(ReadOnlySpan<byte> block)
    {
        if (block.IsEmpty || block[0] != 2)
            return null;
        block = block[1..];
        if (TakeLength(ref block) is not { } first || TakeLength(ref block) is not { } second || first + second >= block.Length)
            return null;
        return new VorbisHeaders(block[..first].ToArray(), block[(first + second)..].ToArray());
    }

    private static int? TakeLength(ref ReadOnlySpan<byte> block)
    {
        int length = 0;
        for (int i = 0; i < block.Length; i++)
        {
            length += block[i];
            if (block[i] == 255)
                continue;
            block = block[(i + 1)..];
            return length;
        }

        return null;
    }
}
