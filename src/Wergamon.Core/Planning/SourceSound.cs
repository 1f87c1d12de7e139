namespace Wergamon.Core.Planning;

/// <summary>The sound of a source at some time, and what is made of it.</summary>
/// <param name="Digest">Of the samples, with their shape behind it; null while they have not been analysed.</param>
/// <param name="Bytes">Size of the file.</param>
/// <param name="ModifiedAt">When it was last written, in milliseconds since 1970.</param>
/// <param name="Recipe">All that the target says of the sound.</param>
public sealed record SourceSound(string? Digest, long Bytes, long ModifiedAt, string Recipe)
{
    /// <summary>What stands for the sound of a file that is none: the digest of its text.</summary>
    public static SourceSound OfText(string digest) => new(digest, 0, 0, "");

    /// <summary>
    /// Whether two digests are of the same sound. Behind the digest of the samples may come their shape, since the same samples in another
    /// shape are another sound; one that was kept before shapes were says only the first.
    /// </summary>
    public static bool AreEqual(string one, string other) =>
        one.Contains(' ', StringComparison.Ordinal) && other.Contains(' ', StringComparison.Ordinal)
            ? one == other
            : one.Split(' ')[0] == other.Split(' ')[0];

    /// <summary>Whether the sound is what it was then; null where only an analysis can tell.</summary>
    public bool? IsSoundOf(SourceSound earlier)
    {
        if (Recipe != earlier.Recipe)
            return false;
        if (Digest is not null && earlier.Digest is not null)
            return AreEqual(Digest, earlier.Digest);
        if ((Bytes, ModifiedAt) == (earlier.Bytes, earlier.ModifiedAt))
            return true;
        return earlier.Digest is null ? false : null;
    }
}
