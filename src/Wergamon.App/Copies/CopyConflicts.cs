using Dapper;
using Wergamon.App.Library.Removing;
using Wergamon.App.Storage;
using Wergamon.Core.Planning;

namespace Wergamon.App.Copies;

/// <summary>Decides what happens to a file that has the name of a new copy.</summary>
public sealed class CopyConflicts(Database database, Trash trash)
{
    /// <summary>Moves the existing file to the trash where the rule of the copy says so; false when the copy needs another name.</summary>
    /// <exception cref="NameTakenException">The rule is to leave the existing file and make no copy.</exception>
    public bool FreeName(string existing, CopySpec spec)
    {
        if (spec.OnConflict == ConflictRule.Skip)
            throw new NameTakenException();
        if (spec.OnConflict == ConflictRule.ReplaceOlder && IsNewer(existing, spec))
            throw new NameTakenException();
        bool isReplaced = spec.OnConflict is ConflictRule.Replace or ConflictRule.ReplaceOlder && existing == spec.WantedPath
            && PlainFile.Exists(existing) && !IsInMusicFolder(existing);
        if (isReplaced)
            trash.TakeReplaced(existing);
        return isReplaced;
    }

    private static bool IsNewer(string existing, CopySpec spec) =>
        existing == spec.WantedPath && spec.Job is { } job && PlainFile.ModifiedUtc(existing) >= PlainFile.ModifiedUtc(job.SourcePath);

    /// <summary>Files of a music folder are sources: they are never replaced, both are kept.</summary>
    private bool IsInMusicFolder(string path)
    {
        using var connection = database.Open();
        return connection.ExecuteScalar<bool>(
            "SELECT EXISTS (SELECT 1 FROM copy WHERE path = @path AND folder_id IS NOT NULL)", new { path });
    }
}
