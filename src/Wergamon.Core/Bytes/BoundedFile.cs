namespace Wergamon.Core.Bytes;

/// <summary>Reads small files whole, with a limit, whatever kind of file the name leads to.</summary>
public static class BoundedFile
{
    /// <summary>The bytes of a file, up to its stated length; a device has none and gives nothing.</summary>
    /// <exception cref="IOException">It cannot be read, or is longer than <paramref name="maxBytes"/>.</exception>
    public static byte[] Read(string path, long maxBytes)
    {
        using var stream = new FileStream(path, FileMode.Open, FileAccess.Read, FileShare.Read | FileShare.Delete, bufferSize: 0);
        if (stream.Length > maxBytes)
            throw new IOException($"{path} has {stream.Length:N0} bytes; at most {maxBytes:N0} are read.");
        var bytes = new byte[stream.Length];
        return bytes[..stream.ReadUpTo(bytes)];
    }
}
