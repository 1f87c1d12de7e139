using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Registry;

namespace Wergamon.Testing;

/// <summary>Damages files at random, repeatably, and checks how header and tag readers cope.</summary>
public static class Mutations
{
    /// <summary>Allocation limit of a reader: the file several times over, and a search window.</summary>
    private const int AllocatedPerByte = 64, AllocatedAnyway = 8 << 20;

    /// <summary>Read limit: the file several times over, for lists of pages, frames and chunks.</summary>
    private const int ReadsPerByte = 64, ReadsAnyway = 1 << 20;

    private static readonly uint[] Extremes = [0, 1, 7, 8, 0x7F, 0xFF, 0xFFFF, 0x7FFF_FFFF, 0x8000_0000, 0xFFFF_FFF8, 0xFFFF_FFFF];

    /// <summary>The same bytes for the same seed.</summary>
    public static byte[] Mutate(byte[] original, int seed)
    {
        var random = new Random(seed);
        var bytes = (byte[])original.Clone();
        for (int change = random.Next(1, 5); change > 0 && bytes.Length > 8; change--)
        {
            // Most of what a reader examines is near the start.
            int at = random.Next(random.Next(3) == 0 ? bytes.Length : Math.Min(bytes.Length, 512));
            switch (random.Next(7))
            {
                case 0:
                    bytes[at] ^= (byte)(1 << random.Next(8));
                    break;
                case 1:
                    bytes[at] = (byte)random.Next(256);
                    break;
                case 2:
                    at = Math.Min(at, bytes.Length - 4);
                    uint value = Extremes[random.Next(Extremes.Length)];
                    for (int i = 0; i < 4; i++)
                        bytes[at + i] = (byte)(value >> (random.Next(2) == 0 ? 8 * i : 24 - 8 * i));
                    break;
                case 3:
                    bytes = bytes[..at];
                    break;
                case 4:
                    bytes = [.. bytes[..at], .. bytes[Math.Min(bytes.Length, at + random.Next(1, 64))..]];
                    break;
                case 5:
                    int from = random.Next(bytes.Length);
                    bytes = [.. bytes[..at], .. bytes[from..Math.Min(bytes.Length, from + random.Next(1, 256))], .. bytes[at..]];
                    break;
                default:
                    int other = random.Next(bytes.Length);
                    (bytes[at], bytes[other]) = (bytes[other], bytes[at]);
                    break;
            }
        }

        return bytes;
    }

    /// <summary>Reads facts and tags as a scan does; null when all went as declared, otherwise what went wrong.</summary>
    public static string? Complaint(byte[] file)
    {
        var stream = new WatchedStream(file);
        long before = GC.GetAllocatedBytesForCurrentThread();
        foreach (Action read in (Action[])[() => FileReading.Read(stream), () => FileReading.ReadTags(stream)])
        {
            try
            {
                read();
            }
            catch (UnreadableAudioException)
            {
                // The one declared exception.
            }
            catch (Exception undeclared) when (undeclared is not OutOfMemoryException)
            {
                return undeclared.ToString();
            }
        }

        long allocated = GC.GetAllocatedBytesForCurrentThread() - before;
        return allocated > (long)AllocatedPerByte * file.Length + AllocatedAnyway
            ? $"{allocated:N0} bytes were allocated for a file of {file.Length:N0}."
            : null;
    }

    /// <summary>A file in memory that throws when far more is read than it holds.</summary>
    private sealed class WatchedStream(byte[] file) : MemoryStream(file, writable: false)
    {
        private long _calls;
        private long _bytes;

        public override int Read(Span<byte> buffer) => Count(base.Read(buffer));

        public override int Read(byte[] buffer, int offset, int count) => Count(base.Read(buffer, offset, count));

        private int Count(int got)
        {
            _bytes += got;
            if (++_calls > ReadsAnyway || _bytes > (long)ReadsPerByte * Length + ReadsAnyway)
                throw new InvalidOperationException($"{_calls:N0} reads of {_bytes:N0} bytes in a file of {Length:N0}.");
            return got;
        }
    }
}
