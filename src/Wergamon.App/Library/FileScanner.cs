using Wergamon.App.Files;
using Wergamon.App.Workers;
using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;
using Wergamon.Core.Formats;
using Wergamon.Core.Jobs;
using Wergamon.Core.Naming;
using Wergamon.Core.Planning;
using Wergamon.Core.Tags;

namespace Wergamon.App.Library;

/// <summary>Reads the facts of one file: by Core where it knows the format, by a worker otherwise.</summary>
public sealed class FileScanner(WorkerPool workers, AllowedPaths allowed)
{
    private static readonly HashSet<string> SoundExtensions = new(StringComparer.OrdinalIgnoreCase)
    {
        ".flac", ".wav", ".wave", ".aif", ".aiff", ".aifc", ".mp3", ".m4a", ".m4b", ".mp4", ".aac", ".ogg", ".oga", ".opus", ".wma", ".ape", ".wv", ".tta", ".mpc", ".ac3", ".dsf", ".dff",
        ".mp2", ".mka", ".au", ".caf", ".w64", ".tak", ".dts", ".asf", ".m4v", ".mov", ".3gp", ".3g2", ".mkv", ".webm", ".avi",
    };

    /// <summary>Larger pictures are ignored.</summary>
    private const long MaxCoverBytes = 32L << 20;

    private static readonly string[] CoverNames = ["cover.jpg", "folder.jpg", "front.jpg", "cover.png", "folder.png", "front.png", "cover.jpeg"];

    public static bool LooksLikeSound(string path) => SoundExtensions.Contains(Path.GetExtension(path));

    internal async Task<ScannedFile> ScanAsync(FileInfo file, CancellationToken cancellation)
    {
        var scanned = new ScannedFile(file.FullName, FileStamp.Of(file));
        if (file.Name.Contains('\uFFFD', StringComparison.Ordinal))
            return scanned with { Unreadable = "Its name is not valid UTF-8. Rename the file to bring it in." };
        // A pipe would be waited for without end, and a device has no end.
        if (!FileNumber.IsRegularFile(file.FullName))
            return scanned with { Unreadable = File.Exists(file.FullName) ? "This is a link, device or pipe, not a file; it was not opened." : "The file is gone." };
        try
        {
            return await ReadAsync(scanned, cancellation).ConfigureAwait(false);
        }
        catch (Exception failure) when (failure is UnreadableAudioException or IOException or UnauthorizedAccessException or WorkerLostException)
        {
            return scanned with { Unreadable = failure.Message };
        }
    }

    private async Task<ScannedFile> ReadAsync(ScannedFile file, CancellationToken cancellation)
    {
        using var stream = File.OpenRead(file.Path);
        var reading = FileReading.Read(stream);
        var facts = reading.Facts ?? await AskWorkerAsync(file.Path, cancellation).ConfigureAwait(false);
        var tags = reading.Tags;
        var folder = Path.GetDirectoryName(file.Path)!;
        var fromName = FileNameFacts.FillGaps(tags, Path.GetFileName(folder), Path.GetFileNameWithoutExtension(file.Path));
        var coverPath = tags.Pictures.Count > 0 ? null : CoverNames.Select(name => Path.Combine(folder, name)).FirstOrDefault(IsUsableCover);
        if (coverPath is not null && ReadCover(coverPath) is { } cover)
            tags.Pictures.Add(cover);
        return file with
        {
            Facts = facts with { Damage = [.. facts.Damage.Concat(reading.Damage).Distinct()] },
            Tags = tags,
            // Here and not when it is saved: here all cores work.
            Pictures = [.. tags.Pictures.Select(picture => (picture, LibraryWriter.HashOf(picture)))],
            FieldsFromName = fromName,
            FolderCoverPath = coverPath,
        };
    }

    private async Task<AudioFacts> AskWorkerAsync(string path, CancellationToken cancellation)
    {
        var reply = await workers.RunAsync(new ProbeJob(path), WorkerPriority.HeardNow, null, cancellation).ConfigureAwait(false);
        return reply is ProbeReply { Facts: var facts } ? facts : throw new UnreadableAudioException(reply.Failure ?? "The file could not be read.");
    }

    private bool IsUsableCover(string path) => File.Exists(path) && allowed.MayRead(path) && new FileInfo(AllowedPaths.Resolve(path)!).Length is > 0 and <= MaxCoverBytes;

    private static Picture? ReadCover(string path)
    {
        var data = BoundedFile.Read(path, MaxCoverBytes);
        return PictureSize.MimeTypeOf(data) is { } mimeType ? new Picture(PictureKind.Front, mimeType, "", data) : null;
    }
}
