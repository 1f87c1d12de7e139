namespace Wergamon.Core.Tags.Id3v2;

/// <summary>
/// Keeps a tag from looking like the start of an MPEG frame: a zero is inserted after each FF that a byte of E0 or more, or a
/// zero, follows, and after one at the end (ID3v2.4.0 - Main Structure, section 6.1).
/// </summary>
public static class Unsynchronisation
{
    public static byte[] Undo(ReadOnlySpan<byte> data)
    {
        var plain = new byte[data.Length];
        int length = 0;
        for (int i = 0; i < data.Length; i++)
        {
            plain[length++] = data[i];
            if (data[i] == 0xFF && i + 1 < data.Length && data[i + 1] == 0)
                i++;
        }

        return plain[..length];
    }

    public static byte[] Apply(ReadOnlySpan<byte> data)
    {
        using var safe = new MemoryStream(data.Length + 16);
        for (int i = 0; i < data.Length; i++)
        {
            safe.WriteByte(data[i]);
            if (data[i] == 0xFF && (i + 1 == data.Length || data[i + 1] is 0 or >= 0xE0))
                safe.WriteByte(0);
        }

        return safe.ToArray();
    }
}
