using System.Buffers.Binary;
using System.Globalization;
using Microsoft.Extensions.Logging;
using Wergamon.App.Workers;
using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Iff;
using Wergamon.Core.Jobs;

namespace Wergamon.App.Library;

/// <summary>Plays any copy in a browser: formats that browsers cannot play are decoded to WAV by a worker, with playback and seeking from the start.</summary>
public sealed class Playback
{
    /// <summary>Decoded files that are kept, since going back to the previous track is common; fewer when they are long.</summary>
    private const int MaxKept = 8;

    private const long MaxKeptBytes = 2L << 30;

    private const int HeadLength = 40;

    private readonly AppOptions _options;
    private readonly WorkerPool _workers;
    private readonly List<(string Key, string Path, Task Written)> _kept = [];

    public Playback(AppOptions options, WorkerPool workers)
    {
        (_options, _workers) = (options, workers);
        if (Directory.Exists(options.PlaybackFolder))
            Directory.Delete(options.PlaybackFolder, recursive: true);
    }

    /// <summary>The MIME type under which common browsers play a copy as it is; null when they do not.</summary>
    public static string? BrowserType(CopyRow copy) => FileFormats.Find(copy.FileFormat)?.BrowserType(copy.CodecName);

    /// <summary>The copy as WAV; seekable, of known length, and still arriving.</summary>
    /// <exception cref="UnreadableAudioException">It cannot be decoded.</exception>
    public async Task<Stream> OpenAsync(CopyRow copy, CancellationToken cancellation)
    {
        var (path, written) = Start(copy);
        var head = new byte[HeadLength];
        while (true)
        {
            bool isOver = written.IsCompleted;
            if (File.Exists(path) && ReadHead(path, head))
                return new GrowingFileStream(path, LengthIn(head), written);
            if (isOver)
            {
                await written.ConfigureAwait(false);
                throw new UnreadableAudioException("Nothing could be decoded.");
            }

            await Task.Delay(TimeSpan.FromMilliseconds(10), cancellation).ConfigureAwait(false);
        }
    }

    private (string Path, Task Written) Start(CopyRow copy)
    {
        var key = string.Create(CultureInfo.InvariantCulture, $"{copy.Id} {copy.FileBytes} {File.GetLastWriteTimeUtc(copy.Path).Ticks}");
        lock (_kept)
        {
            if (_kept.Find(sound => sound.Key == key) is { Path: not null, Written.IsFaulted: false } kept)
                return (kept.Path, kept.Written);
            Directory.CreateDirectory(_options.PlaybackFolder);
            var path = Path.Combine(_options.PlaybackFolder, Guid.NewGuid().ToString("N") + ".wav");
            var written = DecodeAsync(new DecodeJob(copy.Path, path, copy.FrameCount));
            _kept.RemoveAll(sound => sound.Key == key);
            _kept.Add((key, path, written));
            DropOld();
            return (path, written);
        }
    }

    private void DropOld()
    {
        long bytes = _kept.Sum(BytesOf);
        // The newest is what is wanted now.
        foreach (var old in _kept.SkipLast(1).Where(sound => sound.Written.IsCompleted).ToList())
        {
            if (_kept.Count <= MaxKept && bytes <= MaxKeptBytes)
                return;
            bytes -= BytesOf(old);
            // Whoever listens to it still has it open and can go on.
            File.Delete(old.Path);
            _kept.Remove(old);
        }
    }

    private static long BytesOf((string Key, string Path, Task Written) sound) => File.Exists(sound.Path) ? new FileInfo(sound.Path).Length : 0;

    private async Task DecodeAsync(DecodeJob job)
    {
        try
        {
            var reply = await _workers.RunAsync(job, WorkerPriority.HeardNow, null, CancellationToken.None).ConfigureAwait(false);
            if (reply.Failure is { } failure)
                throw new UnreadableAudioException(failure);
        }
        catch (WorkerLostException lost)
        {
            throw new UnreadableAudioException(lost.Message, lost);
        }
    }

    private static bool ReadHead(string path, byte[] head)
    {
        using var stream = new FileStream(path, FileMode.Open, FileAccess.Read, FileShare.ReadWrite | FileShare.Delete);
        return stream.TryReadWhole(head);
    }

    /// <summary>The length of the whole file as its head states it: RIFF, or the ds64 chunk of RF64 (EBU Tech 3306).</summary>
    private static long LengthIn(ReadOnlySpan<byte> head) =>
        8 + (head.StartsWith("RF64"u8) ? BinaryPrimitives.ReadInt64LittleEndian(head[20..]) : BinaryPrimitives.ReadUInt32LittleEndian(head[4..]));
}
