using System.Data;
using Dapper;
using Wergamon.App.Runs;
using Wergamon.App.Storage;

namespace Wergamon.App.Tags;

/// <summary>Writes the changes of sheets as runs, and undoes them.</summary>
public sealed class TagRuns(Database database, RunStore runs, TagSheets sheets, Settings settings)
{
    /// <summary>The runs that write.</summary>
    public static readonly RunKind RunKind = new("tags", Station.Tags, "Writing tags", "written")
    {
        CanBeUndone = true,
        SaysSummary = run => $"Tags of {run.CountResults("file")}"
    };

    /// <summary>The runs that take back.</summary>
    public static readonly RunKind UndoKind = new("undo-tags", Station.Tags, "Undoing tags", "undone")
    {
        SaysSummary = run => $"Tags of {run.CountResults("file")}"
    };

    public TagSettings Settings => settings.Read(TagSettings.Key, TagsJson.Default.TagSettings) ?? new TagSettings();

    public void Save(TagSettings chosen) => settings.Write(TagSettings.Key, chosen, TagsJson.Default.TagSettings);

    /// <summary>Starts a run that writes all changes of a sheet that are not excluded; null when there are none.</summary>
    /// <param name="allCopies">True to write fields and pictures to the other copies of each track, too.</param>
    /// <param name="reviewed">The <see cref="TagSheets.StateOf"/> that was reviewed: when files have changed since, nothing is started.
    /// Null for what they are now.</param>
    /// <param name="dropsUnreadable">True when unreadable parts of damaged tags may be lost.</param>
    public long? Write(long sheetId, bool allCopies, string? reviewed = null, bool dropsUnreadable = false)
    {
        if (sheets.Get(sheetId) is not { } sheet || (reviewed is not null && reviewed != sheets.StateOf(sheetId)))
            return null;
        var chosen = Settings;
        var edits = sheets.Edits(sheetId).Where(edit => !edit.IsLeftOut).ToLookup(edit => edit.CopyId);
        var files = sheets.Files(sheetId).Where(file => edits.Contains(file.CopyId)).ToList();
        if (files.Count == 0)
            return null;
        return database.Change(connection =>
        {
            long run = runs.Insert(connection, new NewRun(RunKind, sheet.Title, "tags", null));
            int position = 0;
            var written = files.Select(file => file.CopyId).ToHashSet();
            foreach (var file in files)
            {
                var spec = SpecOf(file.CopyId, edits[file.CopyId]) with
                {
                    Id3v2Version = chosen.Id3v2Version,
                    KeepsTime = chosen.KeepsTime,
                    DropsUnreadable = dropsUnreadable
                };
                Insert(connection, run, position++, file.CopyId, file.Path, spec);
                if (!allCopies || (spec.Fields.Count == 0 && spec.Pictures is null))
                    continue;
                foreach (var (id, path) in OthersOf(connection, file.CopyId).Where(other => written.Add(other.Id)))
                    Insert(connection, run, position++, id, path, spec with { CopyId = id, NewPath = null });
            }

            TagSheets.Forget(connection, sheetId);
            return (long?)run;
        });
    }

    /// <summary>Starts a run that undoes what a run has written, where that is possible.</summary>
    public long? Undo(long runId) => Undo(
        "SELECT u.item_id, u.copy_id FROM tag_undo u JOIN run_item i ON i.id = u.item_id WHERE i.run_id = @id AND u.is_done "
            + "AND u.undone_by IS NULL ORDER BY i.position",
        runId, runs.Get(runId)?.Title);

    /// <summary>Starts a run that undoes what was written to one file.</summary>
    public long? UndoItem(long itemId) => Undo(
        "SELECT u.item_id, u.copy_id FROM tag_undo u WHERE u.item_id = @id AND u.is_done AND u.undone_by IS NULL", itemId,
        runs.Item(itemId)?.Title);

    /// <summary>The latest writes, without those that were undone completely.</summary>
    public IReadOnlyList<WrittenRow> Written(int max)
    {
        using var connection = database.Open();
        return connection.Query<WrittenRow>(
            """
            SELECT r.id AS run_id, r.title, r.started_at, COUNT(i.id) AS files, COALESCE(SUM(u.is_done
                AND u.undone_by IS NULL), 0) AS can_undo
            FROM run r JOIN run_item i ON i.run_id = r.id LEFT JOIN tag_undo u ON u.item_id = i.id
            WHERE r.kind = @Key GROUP BY r.id HAVING can_undo > 0 OR r.state <> 'done' ORDER BY r.id DESC LIMIT @max
            """,
            new { RunKind.Key, max }).AsList();
    }

    /// <summary>Items of a run whose write can be undone.</summary>
    public IReadOnlySet<long> Undoable(long runId)
    {
        using var connection = database.Open();
        return connection.Query<long>(
            "SELECT u.item_id FROM tag_undo u JOIN run_item i ON i.id = u.item_id WHERE i.run_id = @runId AND u.is_done "
                + "AND u.undone_by IS NULL",
            new { runId }).ToHashSet();
    }

    private long? Undo(string select, long id, string? title) => database.Change(connection =>
    {
        var writes = connection.Query<(long ItemId, long CopyId)>(select, new { id }).AsList();
        if (writes.Count == 0)
            return null;
        long run = runs.Insert(connection, new NewRun(UndoKind, title ?? "Tags", "undo", null));
        for (int position = 0; position < writes.Count; position++)
        {
            var (itemId, copyId) = writes[position];
            var path = connection.ExecuteScalar<string>("SELECT path FROM copy WHERE id = @copyId", new { copyId })!;
            var spec = new TagUndoSpec(copyId, itemId) { KeepsTime = Settings.KeepsTime };
            RunStore.InsertItem(
                connection, run, position,
                TagUndoHandler.ItemKind.New(Lane.Files, Path.GetFileName(path), 1, spec) with { CopyIds = [copyId] });
        }

        return (long?)run;
    });

    private static TagWriteSpec SpecOf(long copyId, IEnumerable<TagEditRow> edits)
    {
        var fields = new List<FieldChange>();
        IReadOnlyList<PictureChoice>? pictures = null;
        string? name = null;
        foreach (var edit in edits)
        {
            switch (edit.Kind)
            {
                case EditKind.Field:
                    fields.Add(new FieldChange(edit.Field, edit.Values));
                    break;
                case EditKind.Pictures:
                    pictures = edit.Pictures;
                    break;
                default:
                    name = edit.Value;
                    break;
            }
        }

        return new TagWriteSpec(copyId, fields, pictures, name);
    }

    private static void Insert(IDbConnection connection, long runId, int position, long copyId, string path, TagWriteSpec spec) =>
        RunStore.InsertItem(
            connection, runId, position,
            TagWriteHandler.ItemKind.New(
                Lane.Files, Path.GetFileName(path), 1, (spec with { Reviewed = KnownAs(connection, copyId) })) with
            { CopyIds = [copyId] });

    private static ReviewedFile? KnownAs(IDbConnection connection, long copyId) =>
        connection.QueryFirstOrDefault<ReviewedFile>(
            "SELECT file_bytes AS bytes, modified_at, file_number AS number FROM copy WHERE id = @copyId", new { copyId });

    private static List<(long Id, string Path)> OthersOf(IDbConnection connection, long copyId) => connection.Query<(long Id, string Path)>(
        "SELECT id, path FROM copy WHERE track_id = (SELECT track_id FROM copy WHERE id = @copyId) AND id <> @copyId AND NOT is_trashed "
            + "AND NOT is_missing ORDER BY id",
        new { copyId }).AsList();
}
