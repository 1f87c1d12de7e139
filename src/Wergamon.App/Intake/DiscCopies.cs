using System.Data;
using System.Text.Json;
using System.Threading.Channels;
using Dapper;
using Microsoft.Extensions.Hosting;
using Microsoft.Extensions.Logging;
using Wergamon.App.Data;
using Wergamon.App.Library;
using Wergamon.App.Runs;
using Wergamon.Core.Audio;
using Wergamon.Core.Discs;
using Wergamon.Core.Names;
using Wergamon.Core.Tags;

namespace Wergamon.App.Intake;

/// <summary>
/// Carries names and pictures that were mended into the copies that were made from the disc before: tags are written anew, the
/// sound is copied byte for byte and compared, and the files get the names that follow.
/// </summary>
public sealed class DiscCopies(
    Database database, DiscStore discs, RipStore rips, RipFinish finish, FileScanner scanner, LibraryWriter writer, RunSignals signals, ILogger<DiscCopies> logger) : BackgroundService
{
    private static readonly string[] FieldsOfDisc =
    [
        FieldNames.Title, FieldNames.Artist, FieldNames.AlbumArtist, FieldNames.Album, FieldNames.Track, FieldNames.TrackTotal, FieldNames.Disc, FieldNames.DiscTotal,
        FieldNames.Year, FieldNames.Genre, FieldNames.Isrc, FieldNames.Compilation, "barcode",
    ];

    private readonly Channel<long> _queue = Channel.CreateUnbounded<long>();

    /// <summary>Looks through the copies of a disc, soon.</summary>
    public void Follow(long discId) => _queue.Writer.TryWrite(discId);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        await foreach (long discId in _queue.Reader.ReadAllAsync(stoppingToken).ConfigureAwait(false))
        {
            rips.NameAnew(discId);
            if (await FollowAsync(discId, stoppingToken).ConfigureAwait(false))
                signals.Send(new RunSignal("library"));
        }
    }

    private async Task<bool> FollowAsync(long discId, CancellationToken cancellation)
    {
        var disc = discs.Get(discId)!;
        var pictures = discs.PicturesOf(discId);
        bool hasChanged = false;
        foreach (var copy in Made(discId).Where(copy => File.Exists(copy.Path)))
        {
            try
            {
                hasChanged |= await FollowAsync(copy, disc, pictures, cancellation).ConfigureAwait(false);
            }
            catch (Exception failure) when (failure is IOException or UnauthorizedAccessException or UnreadableAudioException)
            {
                logger.LogWarning("Copy {CopyId}: the names that were mended could not be written into it: {Reason}", copy.CopyId, failure.Message);
            }
        }

        if (hasChanged)
        {
            foreach (long runId in Made(discId).Select(copy => copy.RunId).Distinct())
                finish.OnEnded(runId);
        }

        return hasChanged;
    }

    private sealed record MadeCopy
    {
        public long CopyId { get; init; }

        public string Path { get; init; } = "";

        public int DiscTrack { get; init; }

        public long RunId { get; init; }

        public long ItemId { get; init; }

        public string OutputFolder { get; init; } = "";

        public string RelativePath { get; init; } = "";
    }

    private List<MadeCopy> Made(long discId)
    {
        using var connection = database.Open();
        return connection.Query<MadeCopy>(
            """
            SELECT c.id AS copy_id, c.path, i.disc_track, i.run_id, i.id AS item_id, r.output_folder, i.relative_path
            FROM run r JOIN run_item i ON i.run_id = r.id JOIN copy c ON c.id = i.new_copy_id WHERE r.disc_id = @discId ORDER BY i.run_id, i.position
            """,
            new { discId }).AsList();
    }

    private async Task<bool> FollowAsync(MadeCopy copy, DiscRow disc, IReadOnlyList<Picture> pictures, CancellationToken cancellation)
    {
        var names = copy.DiscTrack == RipStore.WholeDisc ? disc.ReadAlbum().TagsOfWhole(disc.ReadContents()) : disc.ReadAlbum().TagsOf(copy.DiscTrack, disc.ReadContents());
        TagSet tags;
        using (var stream = File.OpenRead(copy.Path))
            tags = TagFile.Read(stream).Tags;
        bool isSame = FieldsOfDisc.All(name => tags[name].SequenceEqual(names[name])) && (pictures.Count == 0 || tags.Pictures.SequenceEqual(pictures));
        if (isSame)
            return false;
        foreach (var name in FieldsOfDisc)
            tags.Set(name, names[name]);
        if (pictures.Count > 0)
        {
            tags.Pictures.Clear();
            foreach (var picture in pictures)
                tags.Pictures.Add(picture);
        }

        var relative = NewRelativePath(copy, names);
        var path = relative == copy.RelativePath ? copy.Path : FreePath(Path.Combine(copy.OutputFolder, relative));
        Directory.CreateDirectory(Path.GetDirectoryName(path)!);
        WriteProved(copy.Path, path, tags);
        if (path != copy.Path)
            RemoveOld(copy.Path);
        var scanned = await scanner.ScanAsync(new FileInfo(path), cancellation).ConfigureAwait(false);
        database.Change(connection =>
        {
            connection.Execute("UPDATE copy SET path = @path WHERE id = @CopyId", new { path, copy.CopyId });
            connection.Execute("UPDATE run_item SET final_path = @path, relative_path = @relative, title = @title WHERE id = @ItemId", new { path, relative, title = names.First(FieldNames.Title), copy.ItemId });
            if (scanned.Facts is not null)
                writer.SaveRenamed(connection, copy.CopyId, scanned);
        });
        return true;
    }

    /// <summary>The folder of the target, where there is one, stays in front.</summary>
    private static string NewRelativePath(MadeCopy copy, TagSet names)
    {
        var named = TrackPath.For(names, Path.GetExtension(copy.Path));
        var parts = copy.RelativePath.Split('/');
        return parts.Length > named.Split('/').Length ? parts[0] + "/" + named : named;
    }

    private static string FreePath(string path)
    {
        int number = 2;
        var free = path;
        while (File.Exists(free))
            free = TrackPath.Numbered(path, number++);
        return free;
    }

    private static void WriteProved(string from, string to, TagSet tags)
    {
        var temporary = Path.Combine(Path.GetDirectoryName(to)!, $"{RunEngine.TemporaryPrefix}{Guid.NewGuid().ToString("N")[..8]}.part");
        try
        {
            using (var source = File.OpenRead(from))
            using (var target = new FileStream(temporary, FileMode.CreateNew, FileAccess.ReadWrite))
            {
                TagRewriter.Rewrite(source, target, tags);
                target.Flush(flushToDisk: true);
                var back = TagFile.Read(target);
                bool isWhole = back.Damage.Count == 0 && tags.Fields.All(field => back.Tags[field.Name].SequenceEqual(field.Values)) && back.Tags.Pictures.SequenceEqual(tags.Pictures)
                    && TagRewriter.SumOfSound(source) == TagRewriter.SumOfSound(target);
                if (!isWhole)
                    throw new IOException("The file with the new tags did not read back as it should.");
            }

            File.Move(temporary, to, overwrite: true);
        }
        finally
        {
            File.Delete(temporary);
        }
    }

    /// <summary>The copy under its old name, and what stood beside it only for its sake.</summary>
    private static void RemoveOld(string path)
    {
        File.Delete(path);
        File.Delete(Path.ChangeExtension(path, ".cue"));
        var folder = Path.GetDirectoryName(path)!;
        var rest = Directory.GetFileSystemEntries(folder);
        if (rest.Length == 1 && rest[0].EndsWith(RipFinish.ReportEnding, StringComparison.Ordinal))
        {
            File.Delete(rest[0]);
            rest = [];
        }

        if (rest.Length == 0)
            Directory.Delete(folder);
    }
}
