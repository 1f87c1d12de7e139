using Dapper;
using Wergamon.App.Files;
using Wergamon.App.Storage;

namespace Wergamon.App.Convert;

/// <summary>Drop folders and their files in the database.</summary>
public sealed class DropFolderStore(Database database, AllowedPaths allowed)
{
    private const string Select =
        """
        SELECT d.id, d.path, d.target_key, d.output_folder, d.takes_originals, d.is_paused,
            (SELECT COUNT(*) FROM drop_file WHERE folder_id = d.id AND state = 'running') AS running,
            (SELECT COUNT(*) FROM drop_file WHERE folder_id = d.id AND state = 'done') AS done,
            (SELECT COUNT(*) FROM drop_file WHERE folder_id = d.id AND state = 'failed') AS failed
        FROM drop_folder d
        """;

    public IReadOnlyList<DropFolder> List() => database.Read("drop folders", connection => connection.Query<DropFolder>(Select + " ORDER BY d.path").AsList());

    /// <summary>Adds a folder; gives the reason, for the person, when that is not possible.</summary>
    /// <param name="outputTyped">Where copies go; it must lie outside of the folder, or they would be converted again.</param>
    public string? Add(string? typed, string targetKey, string? outputTyped, bool takesOriginals)
    {
        var (path, output) = (allowed.CheckMusicFolder(typed), allowed.CheckOutputFolder(outputTyped));
        if ((path.Refusal ?? output.Refusal) is { } refusal)
            return refusal;
        if (AllowedPaths.IsBelow(output.Path!, path.Path!))
            return "Copies cannot go into the drop folder itself: they would be converted again. Choose a folder outside of it.";
        if (List().FirstOrDefault(known => AllowedPaths.IsBelow(path.Path!, known.Path) || AllowedPaths.IsBelow(known.Path, path.Path!)) is { } other)
            return $"{other.Path} is a drop folder already. One cannot lie within the other.";
        if (IsMusicFolder(path.Path!))
            return $"{path.Path} belongs to the music folders, whose files stay as they are. Choose another folder.";
        database.Change(connection => connection.Execute(
            "INSERT INTO drop_folder (path, target_key, output_folder, takes_originals) VALUES (@path, @targetKey, @output, @takesOriginals)",
            new { path = path.Path, targetKey, output = output.Path, takesOriginals }));
        return null;
    }

    public void SetPaused(long id, bool isPaused) => Change("UPDATE drop_folder SET is_paused = @isPaused WHERE id = @id", new { id, isPaused });

    /// <summary>The folder is one like any other again; its files and the copies stay.</summary>
    public void Remove(long id) => Change("DELETE FROM drop_folder WHERE id = @id", new { id });

    /// <summary>Lets files that have failed be tried again.</summary>
    public void Retry(long id) => Change("DELETE FROM drop_file WHERE folder_id = @id AND state = 'failed'", new { id });

    /// <summary>What is known of the files of a folder, by path.</summary>
    internal Dictionary<string, DropFile> Files(long folderId)
    {
        using var connection = database.Open();
        return connection.Query<DropFile>("SELECT path, file_bytes, modified_at, run_id, state FROM drop_file WHERE folder_id = @folderId", new { folderId }).ToDictionary(file => file.Path);
    }

    /// <summary>Records the run of files, or that they have no run because they cannot be read.</summary>
    internal void Set(long folderId, IEnumerable<DropFile> files) => database.Change(connection => connection.Execute(
        "INSERT OR REPLACE INTO drop_file (folder_id, path, file_bytes, modified_at, run_id, state) VALUES (@folderId, @Path, @FileBytes, @ModifiedAt, @RunId, @State)",
        files.Select(file => new { folderId, file.Path, file.FileBytes, file.ModifiedAt, file.RunId, file.State })));

    private bool IsMusicFolder(string path)
    {
        using var connection = database.Open();
        return connection.Query<string>("SELECT path FROM folder").Any(folder => AllowedPaths.IsBelow(path, folder) || AllowedPaths.IsBelow(folder, path));
    }

    private void Change(string sql, object parameters) => database.Change(connection => connection.Execute(sql, parameters));
}

/// <summary>A file of a drop folder that was taken into a run.</summary>
internal sealed record DropFile
{
    public const string Running = "running", Done = "done", Failed = "failed";

    public string Path { get; init; } = "";

    public long FileBytes { get; init; }

    public long ModifiedAt { get; init; }

    public long? RunId { get; init; }

    public string State { get; init; } = Running;
}
