using Dapper;
using Wergamon.App.Copies;
using Wergamon.App.Files;
using Wergamon.App.Storage;

namespace Wergamon.App.Convert;

/// <summary>Drop folders and their files in the database.</summary>
public sealed class DropFolderStore(Database database, TargetChoices targets, AllowedPaths allowed)
{
    private const string Select =
        """
        SELECT d.id, d.path, d.target_key, d.output_folder, d.takes_originals AS removes_sources, d.agreed_loss, d.is_paused,
            (SELECT COUNT(*) FROM drop_file WHERE folder_id = d.id AND state = 'running') AS running,
            (SELECT COUNT(*) FROM drop_file WHERE folder_id = d.id AND state = 'done') AS done,
            (SELECT COUNT(*) FROM drop_file WHERE folder_id = d.id AND state = 'failed') AS failed
        FROM drop_folder d
        """;

    public IReadOnlyList<DropFolder> List() =>
        database.Read("drop folders", connection => connection.Query<DropFolder>(Select + " ORDER BY d.path").AsList());

    /// <summary>Adds a folder; gives the reason, for the person, when that is not possible.</summary>
    /// <param name="outputTyped">Where copies go; it must be outside the folder, or they would be converted again.</param>
    /// <param name="takesOriginals">True when originals go to the trash after proof.</param>
    /// <param name="agreesToLoss">True after the person has agreed to lose what originals hold more than the copies that this target makes
    /// now.</param>
    public string? Add(string? typed, string targetKey, string? outputTyped, bool takesOriginals, bool agreesToLoss = false)
    {
        var target = targets.Get(targetKey);
        if (takesOriginals && target.IsLossy && !agreesToLoss)
            return $"{target.Encoder.Summary} is lossy: the lost detail cannot be restored. Agree that originals may be moved to the "
                + "trash, or keep them.";
        var (path, output) = (allowed.CheckMusicFolder(typed), allowed.CheckOutputFolder(outputTyped));
        if ((path.Refusal ?? output.Refusal) is { } refusal)
            return refusal;
        if (AllowedPaths.IsBelow(output.Path!, path.Path!))
            return "Copies cannot go into the drop folder itself: they would be converted again. Choose a folder outside of it.";
        if (List()
            .FirstOrDefault(
                known => AllowedPaths.IsBelow(path.Path!, known.Path) || AllowedPaths.IsBelow(known.Path, path.Path!)) is { } other)
            return $"{other.Path} is already a drop folder. One cannot be inside the other.";
        if (IsMusicFolder(path.Path!))
            return $"{path.Path} belongs to the music folders, whose files are never changed. Choose another folder.";
        database.Change(connection => connection.Execute(
            "INSERT INTO drop_folder (path, target_key, output_folder, takes_originals, agreed_loss) "
                + "VALUES (@path, @Key, @output, @takesOriginals, @loss)",
            new
            {
                path = path.Path,
                target.Key,
                output = output.Path,
                takesOriginals,
                loss = takesOriginals && agreesToLoss ? AgreedLoss.Of(target) : null
            }));
        return null;
    }

    /// <summary>True when originals are kept because the person never agreed to what the target now loses.</summary>
    public bool KeepsForWantOfConsent(DropFolder folder) =>
        folder.RemovesSources && targets.Get(folder.TargetKey) is { IsLossy: true } target && folder.AgreedLoss != AgreedLoss.Of(target);

    /// <summary>The person agrees to remove originals although the current target loses something of them.</summary>
    public void AgreeToLoss(long id) => database.Change(connection =>
    {
        if (connection.QueryFirstOrDefault<string>("SELECT target_key FROM drop_folder WHERE id = @id", new { id }) is { } key)
            connection.Execute(
                "UPDATE drop_folder SET agreed_loss = @loss WHERE id = @id AND takes_originals",
                new { id, loss = AgreedLoss.Of(targets.Get(key)) });
    });

    public void SetPaused(long id, bool isPaused) =>
        Change("UPDATE drop_folder SET is_paused = @isPaused WHERE id = @id", new { id, isPaused });

    /// <summary>Stops watching a folder; its files and the copies are kept.</summary>
    public void Remove(long id) => Change("DELETE FROM drop_folder WHERE id = @id", new { id });

    /// <summary>Lets files that have failed be tried again.</summary>
    public void Retry(long id) => Change("DELETE FROM drop_file WHERE folder_id = @id AND state = 'failed'", new { id });

    /// <summary>What is known of the files of a folder, by path.</summary>
    internal Dictionary<string, DropFile> Files(long folderId)
    {
        using var connection = database.Open();
        return connection.Query<DropFile>(
            "SELECT path, file_bytes, modified_at, run_id, state, may_go FROM drop_file WHERE folder_id = @folderId",
            new { folderId }).ToDictionary(file => file.Path);
    }

    /// <summary>Records the run of files, or that they have no run because they cannot be read.</summary>
    internal void Set(long folderId, IEnumerable<DropFile> files) => database.Change(connection => connection.Execute(
        "INSERT OR REPLACE INTO drop_file (folder_id, path, file_bytes, modified_at, run_id, state, may_go) "
            + "VALUES (@folderId, @Path, @FileBytes, @ModifiedAt, @RunId, @State, @MayGo)",
        files.Select(file => new { folderId, file.Path, file.FileBytes, file.ModifiedAt, file.RunId, file.State, file.MayGo })));

    /// <summary>
    /// Records files that may still be growing, forgets the others, and returns since when each has had its size and
    /// time.
    /// </summary>
    internal Dictionary<string, long> Watch(
        long folderId, IReadOnlyCollection<(string Path, FileStamp Stamp)> files, long now) => database.Change(connection =>
    {
        var seen = connection.Query<(string Path, long Bytes, long ModifiedAt, long Since)>(
            "SELECT path, file_bytes, modified_at, since FROM drop_seen WHERE folder_id = @folderId",
            new { folderId }).ToDictionary(row => row.Path);
        var since = files.ToDictionary(
            file => file.Path,
            file => seen.TryGetValue(file.Path, out var row) && file.Stamp.SizeAndTime == (row.Bytes, row.ModifiedAt) && row.Since <= now
                ? row.Since
                : now);
        connection.Execute(
            "DELETE FROM drop_seen WHERE folder_id = @folderId AND path = @path",
            seen.Keys.Where(path => !since.ContainsKey(path)).Select(path => new { folderId, path }));
        connection.Execute(
            "INSERT OR REPLACE INTO drop_seen (folder_id, path, file_bytes, modified_at, since) "
                + "VALUES (@folderId, @Path, @Bytes, @ModifiedAt, @since)",
            files.Where(
                file => !seen.TryGetValue(file.Path, out var row) || row.Since != since[file.Path]
                    || file.Stamp.SizeAndTime != (row.Bytes, row.ModifiedAt))
                .Select(file => new { folderId, file.Path, file.Stamp.Bytes, file.Stamp.ModifiedAt, since = since[file.Path] }));
        return since;
    });

    private bool IsMusicFolder(string path)
    {
        using var connection = database.Open();
        return connection.Query<string>("SELECT path FROM folder")
            .Any(folder => AllowedPaths.IsBelow(path, folder) || AllowedPaths.IsBelow(folder, path));
    }

    private void Change(string sql, object parameters) => database.Change(connection => connection.Execute(sql, parameters));
}
