using System.Globalization;
using Microsoft.Extensions.Logging;
using Wergamon.App.Files;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;
using Wergamon.App.Workers;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Jobs;
using Wergamon.Core.Naming;
using Wergamon.Core.Tags;

namespace Wergamon.App.Library.Scan;

/// <summary>Reads the facts of one file: by Core where it knows the format, by a worker otherwise.</summary>
public sealed class FileScanner(WorkerPool workers, AllowedPaths allowed, AppOptions options, ILogger<FileScanner> logger)
{
    private static readonly HashSet<string> SoundExtensions = new(StringComparer.OrdinalIgnoreCase)
    {
        ".flac", ".wav", ".wave", ".aif", ".aiff", ".aifc", ".mp3", ".m4a", ".m4b", ".mp4", ".aac", ".ogg", ".oga", ".opus", ".wma", ".ape",
        ".wv", ".tta", ".mpc", ".ac3", ".dsf", ".dff",
        ".mp2", ".mka", ".au", ".caf", ".w64", ".tak", ".dts", ".asf", ".m4v", ".mov", ".3gp", ".3g2", ".mkv", ".webm", ".avi",
    };

    /// <summary>Larger pictures are ignored.</summary>
    private const long MaxCoverBytes = 32L << 20;

    private static readonly string[] CoverNames = [
        "cover.jpg", "folder.jpg", "front.jpg", "cover.png", "folder.png", "front.png", "cover.jpeg"
    ];

    public static bool LooksLikeSound(string path) => SoundExtensions.Contains(Path.GetExtension(path));

    /// <summary>False for a name whose bytes are not text: such a file cannot be opened.</summary>
    internal static bool IsNamedInText(string path) => !path.Contains('\uFFFD', StringComparison.Ordinal);

    internal async Task<ScannedFile> ScanAsync(string path, CancellationToken cancellation)
    {
        var read = await ReadAsync(path, cancellation).ConfigureAwait(false);
        return read.NeedsDecoder ? await AskDecoderAsync(read, cancellation).ConfigureAwait(false) : read;
    }

    /// <summary>Reads what can be read without a decoder; the result says whether one is needed.</summary>
    internal async Task<ScannedFile> ReadAsync(string path, CancellationToken cancellation)
    {
        var scanned = new ScannedFile(path, FileStamp.Of(path));
        if (!IsNamedInText(path))
            return scanned with { Unreadable = "Its name or that of its folder is not valid UTF-8. Rename it to add the file." };
        // A pipe would be waited for without end, and a device has no end.
        if (!PlainFile.Exists(path))
            return scanned with
            {
                Unreadable = PlainFile.IsTaken(path)
                    ? "This is a link, device or pipe, not a file; it was not opened."
                    : "The file is gone."
            };
        try
        {
            return await Task.Run(() => Read(scanned), cancellation).WaitAsync(options.ScanLimit, cancellation).ConfigureAwait(false);
        }
        catch (TimeoutException)
        {
            return GivenUp(scanned);
        }
        catch (Exception failure) when (failure is UnreadableAudioException or IOException or UnauthorizedAccessException)
        {
            return scanned with { Unreadable = failure.Message };
        }
        catch (Exception failure) when (failure is not OperationCanceledException)
        {
            // A bug affects one file, not the folder.
            logger.LogError(failure, "{Path} could not be examined", path);
            return scanned with { Unreadable = IsolatedBatch.NotExamined(failure) };
        }
    }

    /// <summary>Lets a worker determine the missing facts.</summary>
    internal async Task<ScannedFile> AskDecoderAsync(ScannedFile file, CancellationToken cancellation)
    {
        using var limit = CancellationTokenSource.CreateLinkedTokenSource(cancellation);
        limit.CancelAfter(options.ScanLimit);
        try
        {
            var reply = await workers.RunUntilRepliedAsync(new ProbeJob(file.Path), file.Path, WorkerPriority.Scan, limit.Token)
                .ConfigureAwait(false);
            return reply is ProbeReply { Facts: var facts }
                ? facts.Problem is { } problem
                    ? file with { Unreadable = problem }
                    : file with { Facts = facts with { Damage = [.. facts.Damage.Concat(file.Damage).Distinct()] } }
                : file with { Unreadable = reply.Failure ?? "The file could not be read." };
        }
        catch (OperationCanceledException) when (!cancellation.IsCancellationRequested)
        {
            return GivenUp(file);
        }
        catch (WorkerNotStartedException missing)
        {
            return file with { Stamp = FileStamp.None, Unreadable = missing.Message + " The next scan tries again." };
        }
    }

    /// <summary>Without its stamp, so that the next scan tries again: a slow disk is not the fault of the file.</summary>
    private ScannedFile GivenUp(ScannedFile file) => file with
    {
        Stamp = FileStamp.None,
        Unreadable = string.Create(
            CultureInfo.InvariantCulture,
            $"Reading it took longer than {options.ScanLimit.TotalSeconds:0} s, so it was skipped. The next scan tries again."),
    };

    private ScannedFile Read(ScannedFile file)
    {
        using var stream = PlainFile.OpenRead(file.Path);
        var reading = FileReading.Read(stream);
        var tags = reading.Tags;
        var folder = Path.GetDirectoryName(file.Path)!;
        var fromName = FileNameFacts.FillGaps(tags, Path.GetFileName(folder), Path.GetFileNameWithoutExtension(file.Path));
        var coverPath = tags.Pictures.Count > 0
            ? null
            : CoverNames.Select(name => UsableCover(Path.Combine(folder, name))).FirstOrDefault(found => found is not null);
        if (coverPath is not null && ReadCover(coverPath) is { } cover)
            tags.Pictures.Add(cover);
        return file with
        {
            Facts = reading.Facts is { } facts ? facts with { Damage = [.. facts.Damage.Concat(reading.Damage).Distinct()] } : null,
            Damage = reading.Damage,
            Tags = ListedTags.From(tags),
            // Here and not when it is saved: this part runs on all cores.
            Pictures = [.. tags.Pictures.Select(picture => (picture, LibraryWriter.HashOf(picture)))],
            FieldsFromName = fromName,
            FolderCoverPath = coverPath,
        };
    }

    /// <summary>The picture itself, for a link to one that may be read; null for anything else.</summary>
    private string? UsableCover(string path) =>
        PlainFile.IsTaken(path) && allowed.MayRead(path) && AllowedPaths.Resolve(path) is { } resolved
                && PlainFile.Length(resolved) is > 0 and <= MaxCoverBytes
            ? resolved
            : null;

    private static Picture? ReadCover(string path)
    {
        var data = PlainFile.ReadAll(path, MaxCoverBytes);
        return PictureSize.MimeTypeOf(data) is { } mimeType ? new Picture(PictureKind.Front, mimeType, "", data) : null;
    }
}
