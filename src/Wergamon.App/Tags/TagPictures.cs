using Dapper;
using Wergamon.App.Storage;
using Wergamon.App.Workers;
using Wergamon.Core.Jobs;
using Wergamon.Core.Tags;
using Wergamon.Devices.Catalogue;

namespace Wergamon.App.Tags;

/// <summary>A picture that the files of a sheet have, or will have.</summary>
/// <param name="Files">The copies that have it.</param>
public sealed record SheetPicture(
    PictureKind Kind, string Hash, string MimeType, int? Width, int? Height, long Bytes, bool IsProgressive, IReadOnlyList<long> Files);

/// <summary>A picture in a folder of the files.</summary>
/// <param name="Number">Its place in the list of the folder's pictures.</param>
public sealed record FolderPicture(int Number, string Path, long Bytes);

/// <summary>The cover of another album.</summary>
public sealed record OtherCover(string Hash, string Album, string Artist);

/// <summary>Pictures of the files on a sheet: the existing ones, sources of others, and edited versions.</summary>
public sealed class TagPictures(Database database, TagSheets sheets, WorkerPool workers, IDiscCatalogue catalogue, AppOptions options)
{
    /// <summary>Larger files are no covers.</summary>
    public const long MaxBytes = 16 << 20;

    private const int MaxFolderPictures = 60;
    private const int CoversFound = 12;

    private static readonly string[] Extensions = [".jpg", ".jpeg", ".png"];

    /// <summary>The pictures of each file, with the changes made so far.</summary>
    public IReadOnlyDictionary<long, IReadOnlyList<PictureChoice>> ByFile(long sheetId)
    {
        using var connection = database.Open();
        var held = connection.Query<(long CopyId, int Kind, string Description, string Hash)>(
            "SELECT w.copy_id, w.kind, w.description, w.hash FROM tag_sheet_file f JOIN copy_artwork w ON w.copy_id = f.copy_id "
                + "WHERE f.sheet_id = @sheetId ORDER BY w.copy_id, w.position",
            new { sheetId })
            .ToLookup(row => row.CopyId, row => new PictureChoice((PictureKind)row.Kind, row.Description, row.Hash));
        var edited = sheets.Edits(sheetId)
            .Where(edit => edit.Kind == EditKind.Pictures)
            .ToDictionary(edit => edit.CopyId, edit => edit.Pictures);
        return sheets.Files(sheetId)
            .ToDictionary(file => file.CopyId, file => edited.TryGetValue(file.CopyId, out var chosen) ? chosen : [.. held[file.CopyId]]);
    }

    /// <summary>All pictures, front covers first, those of most files first.</summary>
    public IReadOnlyList<SheetPicture> List(long sheetId)
    {
        var byFile = ByFile(sheetId);
        using var connection = database.Open();
        return
        [
            .. byFile.SelectMany(pair => pair.Value.Select(picture => (picture.Kind, picture.Hash, CopyId: pair.Key)))
                .GroupBy(each => (each.Kind, each.Hash))
                .Select(group => Describe(connection, group.Key.Kind, group.Key.Hash, [.. group.Select(each => each.CopyId).Distinct()]))
                    .OfType<SheetPicture>()
                .OrderBy(picture => picture.Kind != PictureKind.Front)
                    .ThenBy(picture => picture.Kind)
                    .ThenByDescending(picture => picture.Files.Count),
        ];
    }

    /// <summary>Pictures in the folders of the files, likely covers first.</summary>
    public IReadOnlyList<FolderPicture> InFolders(long sheetId)
    {
        var folders = sheets.Files(sheetId)
            .Select(file => Path.GetDirectoryName(file.Path)!)
            .Distinct(StringComparer.Ordinal)
            .Where(PlainFolder.Exists);
        return
        [
            .. folders.SelectMany(
                folder =>
                    PlainFolder.Files(folder)
                        .Where(
                            file => Extensions.Contains(Path.GetExtension(file), StringComparer.OrdinalIgnoreCase)
                                && PlainFile.Length(file) is > 0 and <= MaxBytes))
                .OrderByDescending(file => LikelinessOf(Path.GetFileName(file)))
                    .ThenBy(file => file, StringComparer.Ordinal)
                    .Take(MaxFolderPictures)
                    .Select((file, number) => new FolderPicture(number, file, PlainFile.Length(file))),
        ];
    }

    /// <summary>Covers of albums whose title or artist has these words.</summary>
    public IReadOnlyList<OtherCover> Find(string words)
    {
        using var connection = database.Open();
        return connection.Query<OtherCover>(
            """
            SELECT w.hash, a.title AS album, a.artist FROM album a JOIN track t ON t.album_id = a.id JOIN copy c ON c.track_id = t.id
                JOIN copy_artwork w ON w.copy_id = c.id AND w.kind = 3
            WHERE instr(lower(a.title || ' ' || a.artist), lower(@words)) > 0 GROUP BY w.hash ORDER BY a.artist, a.title LIMIT @CoversFound
            """,
            new { words, CoversFound }).AsList();
    }

    /// <summary>
    /// Covers in the catalogue for albums with these words, stored for the sheet; the reason, for the person, if there are none.
    /// </summary>
    public async Task<(IReadOnlyList<OtherCover> Covers, string? Refusal)> AskCatalogueAsync(
        long sheetId, string words, CancellationToken cancellation)
    {
        try
        {
            var found = await catalogue.FindAsync(words, cancellation).ConfigureAwait(false);
            var covers = found.Where(entry => entry.Cover is not null)
                .Select(entry => (Stored: Store(sheetId, entry.Cover!), entry.Record))
                .Where(cover => cover.Stored.Hash is not null)
                .Select(cover => new OtherCover(cover.Stored.Hash!, cover.Record.Title, cover.Record.Artist)).ToList();
            return covers.Count > 0 ? (covers, null) : ([], "The catalogue has no cover for these words.");
        }
        catch (CatalogueException failure)
        {
            return ([], failure.Message);
        }
    }

    /// <summary>Sets a picture of files, replacing those of its kind.</summary>
    public void Put(long sheetId, IEnumerable<long> copyIds, PictureKind kind, string hash)
    {
        var byFile = ByFile(sheetId);
        using (var connection = database.Open())
        {
            if (!connection.ExecuteScalar<bool>("SELECT EXISTS (SELECT 1 FROM artwork WHERE hash = @hash)", new { hash }))
                return;
        }

        sheets.SetPictures(
            sheetId,
            [
                .. copyIds.Where(byFile.ContainsKey)
                    .Select(
                        id =>
                            (id,
                                (IReadOnlyList<PictureChoice>)[
                                    new PictureChoice(kind, "", hash), .. byFile[id].Where(picture => picture.Kind != kind)
                                ]))
            ]);
    }

    /// <summary>Takes a picture out of all files.</summary>
    public void Remove(long sheetId, PictureKind kind, string hash)
    {
        var affected = ByFile(sheetId).Where(pair => pair.Value.Any(picture => picture.Kind == kind && picture.Hash == hash));
        sheets.SetPictures(
            sheetId,
            [
                .. affected.Select(
                    pair =>
                        (pair.Key,
                            (IReadOnlyList<PictureChoice>)[.. pair.Value.Where(picture => picture.Kind != kind || picture.Hash != hash)]))
            ]);
    }

    /// <summary>Gives a picture another kind in all files.</summary>
    public void Rename(long sheetId, PictureKind kind, string hash, PictureKind newKind) =>
        Exchange(sheetId, kind, hash, picture => picture with { Kind = newKind });

    /// <summary>Stores a picture for the sheet; returns the reason if it is not a picture.</summary>
    public (string? Hash, string? Refusal) Store(long sheetId, byte[] data) =>
        PictureSize.MimeTypeOf(data) is { } mimeType && PictureSize.Of(data) is not null
            ? (sheets.Store(sheetId, new Picture(PictureKind.Front, mimeType, "", data)), null)
            : (null, "This is neither a JPEG nor a PNG picture.");

    /// <summary>Stores a picture of a folder for the sheet.</summary>
    public (string? Hash, string? Refusal) StoreFromFolder(long sheetId, int number)
    {
        var found = InFolders(sheetId);
        return number >= 0 && number < found.Count
            ? Store(sheetId, PlainFile.ReadAll(found[number].Path, MaxBytes))
            : (null, "This picture is no longer in the folder.");
    }

    /// <summary>Replaces a picture in all files by an edited version; returns the reason if that fails.</summary>
    public async Task<string?> ShapeAsync(long sheetId, PictureKind kind, string hash, int? maxSize, bool isSquare, bool asPng)
    {
        byte[]? data;
        using (var connection = database.Open())
            data = connection.QueryFirstOrDefault<byte[]>("SELECT data FROM artwork WHERE hash = @hash", new { hash });
        if (data is null)
            return "This picture is no longer stored.";
        var folder = Path.Combine(options.DataFolder, "pictures");
        PrivateFiles.CreateFolder(folder);
        var path = Path.Combine(folder, Guid.NewGuid().ToString("N"));
        try
        {
            PlainFile.Write(path, data);
            var reply = await workers.RunAsync(
                new PictureJob(path, maxSize, isSquare, asPng), WorkerPriority.Interactive, null,
                CancellationToken.None).ConfigureAwait(false);
            if (reply is not ThumbnailReply shaped)
                return reply.Failure ?? "The picture could not be changed.";
            var made = sheets.Store(sheetId, new Picture(kind, shaped.MimeType, "", shaped.Data));
            Exchange(sheetId, kind, hash, picture => picture with { Hash = made });
            return null;
        }
        catch (WorkerLostException lost)
        {
            return lost.Message;
        }
        finally
        {
            PlainFile.Delete(path);
        }
    }

    private void Exchange(long sheetId, PictureKind kind, string hash, Func<PictureChoice, PictureChoice> change)
    {
        var affected = ByFile(sheetId).Where(pair => pair.Value.Any(picture => picture.Kind == kind && picture.Hash == hash));
        sheets.SetPictures(
            sheetId,
            [
                .. affected.Select(
                    pair =>
                        (pair.Key,
                            (IReadOnlyList<PictureChoice>)[
                                .. pair.Value.Select(picture => picture.Kind == kind && picture.Hash == hash ? change(picture) : picture)
                            ]))
            ]);
    }

    private static SheetPicture? Describe(System.Data.IDbConnection connection, PictureKind kind, string hash, IReadOnlyList<long> files)
    {
        const int HeadLength = 1 << 16;
        var row = connection.QueryFirstOrDefault<(string MimeType, int? Width, int? Height, long Bytes, byte[] Head)>(
            "SELECT mime_type, width, height, length(data), substr(data, 1, @HeadLength) FROM artwork WHERE hash = @hash",
            new { hash, HeadLength });
        return row.MimeType is null
            ? null
            : new SheetPicture(kind, hash, row.MimeType, row.Width, row.Height, row.Bytes, PictureSize.IsProgressive(row.Head), files);
    }

    private static int LikelinessOf(string name)
    {
        string[] words = ["cover", "front", "folder", "album"];
        int at = Array.FindIndex(words, word => name.Contains(word, StringComparison.OrdinalIgnoreCase));
        return at < 0 ? 0 : words.Length - at;
    }
}
