namespace Wergamon.Core.Tags.Id3v2;

/// <summary>
/// The rating frame (ID3v2.4.0 - Native Frames, 4.17): who rated, a byte, how often played. Which byte means which rating is common
/// practice, no source.
/// </summary>
internal static class Popularimeter
{
    public const string Id = "POPM";

    private static ReadOnlySpan<byte> Bytes => [0, 1, 64, 128, 196, 255];

    /// <summary>1 to 5; null for an unrated or a damaged frame.</summary>
    public static int? RatingOf(ReadOnlySpan<byte> frame)
    {
        int at = frame.IndexOf((byte)0) + 1;
        if (at == 0 || at >= frame.Length)
            return null;
        return frame[at] switch { 0 => null, < 32 => 1, < 96 => 2, < 160 => 3, < 224 => 4, _ => 5 };
    }

    /// <summary>A frame that says the rating and nothing else.</summary>
    public static byte[] Write(int rating) => [0, Bytes[rating]];

    /// <summary>The frame with another rating, or 0 for none; unchanged where it has it already.</summary>
    public static byte[] With(ReadOnlySpan<byte> frame, int rating)
    {
        int at = frame.IndexOf((byte)0) + 1;
        if (at == 0 || at >= frame.Length)
            return Write(rating);
        var changed = frame.ToArray();
        if ((RatingOf(frame) ?? 0) != rating)
            changed[at] = Bytes[rating];
        return changed;
    }
}
