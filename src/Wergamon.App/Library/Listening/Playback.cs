using System.Buffers.Binary;
using Wergamon.App.Files;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;
using Wergamon.App.Workers;
using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Jobs;

namespace Wergamon.App.Library.Listening;

/// <summary>
/// Plays any copy in a browser: formats that browsers cannot play are decoded to WAV by a worker, with playback and seeking from the start.
/// </summary>
public sealed class Playback(AppOptions options, WorkerPool workers)
{
    /// <summary>Decoded files that are kept, since going back to the previous track is common; fewer when they are long.</summary>
    private const int MaxKept = 8;

    private const long MaxKeptBytes = 2L << 30;

    private const int HeadLength = 40;

    private readonly DerivedFileCache _kept = new(workers, options.Folders.Playback, ".wav", MaxKept, MaxKeptBytes);

    /// <summary>The MIME type under which common browsers play a copy unchanged; null when they do not.</summary>
    public static string? BrowserType(CopyRow copy) => FileFormats.Find(copy.Sound.FileFormat)?.BrowserType(copy.Sound.CodecName);

    /// <summary>The copy as WAV; seekable, of known length, and still arriving.</summary>
    /// <exception cref="UnreadableAudioException">It cannot be decoded.</exception>
    public async Task<Stream> OpenAsync(CopyRow copy, CancellationToken cancellation)
    {
        var (path, written) = _kept.Get(copy, output => new DecodeJob(copy.Path, output, copy.Sound.FrameCount));
        var head = new byte[HeadLength];
        while (true)
        {
            bool isOver = written.IsCompleted;
            if (PlainFile.Exists(path) && ReadHead(path, head))
                return new GrowingFileStream(path, LengthIn(head), written);
            if (isOver)
            {
                await written.ConfigureAwait(false);
                throw new UnreadableAudioException("Nothing could be decoded.");
            }

            await Task.Delay(TimeSpan.FromMilliseconds(10), cancellation).ConfigureAwait(false);
        }
    }

    private static bool ReadHead(string path, byte[] head)
    {
        using var stream = PlainFile.Open(path, FileMode.Open, FileAccess.Read);
        return stream.TryReadWhole(head);
    }

    /// <summary>The length of the whole file as its header states it: RIFF, or the ds64 chunk of RF64 (EBU Tech 3306).</summary>
    private static long LengthIn(ReadOnlySpan<byte> head) =>
        8
            + (
                head.StartsWith("RF64"u8)
                    ? BinaryPrimitives.ReadInt64LittleEndian(head[20..])
                    : BinaryPrimitives.ReadUInt32LittleEndian(head[4..]));
}
