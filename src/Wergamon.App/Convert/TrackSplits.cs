using System.Data;
using System.Text.Json;
using Dapper;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;
using Wergamon.Core.Discs;
using Wergamon.Core.Planning;
using Wergamon.Core.Tags;

namespace Wergamon.App.Convert;

/// <summary>A way to split the file of a line that was found with it.</summary>
/// <param name="Key">Identifies it for that file.</param>
/// <param name="Source">Where the marks come from: "Live.cue".</param>
/// <param name="Parts">How many parts it gives.</param>
public sealed record FoundSplit(string Key, string Source, int Parts);

/// <summary>Splits lines of plans into parts of their file, joins several into one, and undoes both.</summary>
public sealed class TrackSplits(Database database, Plans plans)
{
    /// <summary>The field in which some programs keep the text of a cue sheet.</summary>
    public const string CueField = "cuesheet";

    private const int MaxCueSheets = 20;
    private const long MaxCueBytes = 1 << 20;
    private const string Chapters = "chapters";

    /// <summary>The known ways to split a line's file: chapters in its tags, cue sheets in its tags and beside it.</summary>
    public IReadOnlyList<FoundSplit> Find(PlanLine line) =>
        line.IsCutOrJoined || line.IsMissing
            ? []
            : [
                .. MarksOf(line)
                    .Select(
                        found =>
                            new FoundSplit(
                                found.Key, found.Source,
                                FileSplit.Split(found.Marks, line.Facts.Format, line.Facts.FrameCount, onSectors: false).Parts.Count))
                    .Where(found => found.Parts > 1)
            ];

    /// <summary>Splits a line by what was found with its file; gives the reason, for the person, when that is not possible.</summary>
    public string? SplitByFound(long planId, int position, string key, bool onSectors)
    {
        if (LineOf(planId, position) is not { } line)
            return "This track is no longer in the plan.";
        return MarksOf(line).FirstOrDefault(found => found.Key == key).Marks is { } marks
            ? Split(planId, line, marks, onSectors, numbersLead: key != Chapters)
            : "These marks no longer exist.";
    }

    /// <summary>Splits a line at typed times; gives the reason, for the person, when that is not possible.</summary>
    public string? SplitAt(long planId, int position, string typed, bool onSectors)
    {
        if (LineOf(planId, position) is not { } line)
            return "This track is no longer in the plan.";
        var (marks, problem) = FileSplit.Read(typed);
        return problem ?? Split(planId, line, marks, onSectors, numbersLead: false);
    }

    /// <summary>Joins lines into the first of them; gives the reason, for the person, when that is not possible.</summary>
    public string? Join(long planId, IReadOnlyCollection<int> positions)
    {
        if (plans.View(planId) is not { } plan)
            return "This plan no longer exists.";
        var lines = plan.Lines.Where(line => positions.Contains(line.Position)).ToList();
        if (lines.Count < 2)
            return "Pick at least two tracks to join.";
        if (lines.Any(line => line.IsCutOrJoined || line.Stream is not null))
            return "Parts of files, joined tracks and other streams cannot be joined. Choose whole files.";
        if (lines.FirstOrDefault(line => line.FileFacts.Format != lines[0].FileFacts.Format) is { } odd)
            return $"These tracks cannot be joined sample by sample: {lines[0].Title} is {lines[0].FileFacts.Format}, {odd.Title} is "
                + $"{odd.FileFacts.Format}. Convert them to one format first.";
        IReadOnlyList<PlanPiece> pieces = [.. lines.Skip(1).Select(line => new PlanPiece(line.Track?.Id, line.File))];
        database.Change(connection =>
        {
            connection.Execute(
                "UPDATE plan_item SET appended = @appended WHERE plan_id = @planId AND position = @first",
                new
                {
                    appended = JsonSerializer.Serialize(pieces, ConvertJson.Default.IReadOnlyListPlanPiece),
                    planId,
                    first = lines[0].Position
                });
            connection.Execute(
                "DELETE FROM plan_item WHERE plan_id = @planId AND position = @Position",
                lines.Skip(1).Select(line => new { planId, line.Position }));
        });
        return null;
    }

    /// <summary>Undoes splitting or joining.</summary>
    public void Undo(long planId, int position)
    {
        if (LineOf(planId, position) is not { IsCutOrJoined: true } line)
            return;
        database.Change(connection =>
        {
            var rows = Rows(connection, planId);
            int at = rows.FindIndex(row => row.Position == position);
            var first = rows[at] with { Part = null, Appended = null };
            var pieces = rows[at]
                .ReadAppended()
                .Select(
                    piece =>
                        new PlanItemRow
                        {
                            TrackId = piece.TrackId,
                            File = piece.File is null ? null : JsonSerializer.Serialize(piece.File, ConvertJson.Default.PlanFile)
                        });
            if (line.Part is not null)
                at -= rows.Take(at).Count(row => IsPartOf(row, first));
            rows.RemoveAll(row => row.Position == position || line.Part is not null && IsPartOf(row, first));
            rows.InsertRange(at, [first, .. pieces]);
            Write(connection, planId, rows);
        });
    }

    private string? Split(long planId, PlanLine line, IReadOnlyList<SplitMark> marks, bool onSectors, bool numbersLead)
    {
        if (line.IsCutOrJoined)
            return "This is already a part, or joined from several files. Make it one file again first.";
        var (parts, problem) = FileSplit.Split(marks, line.Facts.Format, line.Facts.FrameCount, onSectors, numbersLead);
        if (problem is not null)
            return problem;
        database.Change(connection =>
        {
            var rows = Rows(connection, planId);
            int at = rows.FindIndex(row => row.Position == line.Position);
            // A name that was given to the whole file is not that of each part.
            var whole = rows[at] with
            {
                Exception = Plans.ToJson((Plans.ReadException(rows[at].Exception) ?? new TrackException()) with { Name = null })
            };
            rows.RemoveAt(at);
            rows.InsertRange(at, parts.Select(part => whole with { Part = JsonSerializer.Serialize(part, ConvertJson.Default.TrackPart) }));
            Write(connection, planId, rows);
        });
        return null;
    }

    private static bool IsPartOf(PlanItemRow row, PlanItemRow whole) =>
        row.Part is not null && (row.TrackId, row.File) == (whole.TrackId, whole.File);

    private static List<PlanItemRow> Rows(IDbConnection connection, long planId) =>
        connection.Query<PlanItemRow>(PlanItemRow.Select + " WHERE plan_id = @planId ORDER BY position", new { planId }).AsList();

    private static void Write(IDbConnection connection, long planId, List<PlanItemRow> rows)
    {
        connection.Execute("DELETE FROM plan_item WHERE plan_id = @planId", new { planId });
        connection.Execute(
            "INSERT INTO plan_item (plan_id, position, track_id, file, is_left_out, stream, exception, part, appended) "
                + "VALUES (@planId, @position, @TrackId, @File, @IsLeftOut, @Stream, @Exception, @Part, @Appended)",
            rows.Select(
                (row, position) =>
                    new { planId, position, row.TrackId, row.File, row.IsLeftOut, row.Stream, row.Exception, row.Part, row.Appended }));
    }

    private PlanLine? LineOf(long planId, int position) => plans.View(planId)?.Lines.FirstOrDefault(line => line.Position == position);

    private List<(string Key, string Source, IReadOnlyList<SplitMark> Marks)> MarksOf(PlanLine line)
    {
        var found = new List<(string Key, string Source, IReadOnlyList<SplitMark> Marks)>();
        var fields = FieldsOf(line);
        if (ChapterMark.Parse(fields[FieldNames.Chapters]) is { } chapters)
            found.Add((Chapters, "chapters", FileSplit.MarksOf(chapters)));
        if (fields[CueField] is [var text, ..]
            && MarksIn(CueSheetReader.Read(text).Sheet, line.FilePath, isItsOwn: true) is { Count: > 0 } held)
            found.Add((CueField, "cue sheet in its tags", held));
        var folder = Path.GetDirectoryName(line.FilePath)!;
        foreach (var path in PlainFolder.Exists(folder)
            ? PlainFolder.Files(folder, "*.cue").Order(StringComparer.Ordinal).Take(MaxCueSheets)
            : [])
        {
            bool isItsOwn = Path.GetFileNameWithoutExtension(path) == Path.GetFileNameWithoutExtension(line.FilePath);
            if (ReadCue(path) is { } sheet && MarksIn(sheet, line.FilePath, isItsOwn) is { Count: > 0 } marks)
                found.Add(("file " + Path.GetFileName(path), Path.GetFileName(path), marks));
        }

        return found;
    }

    private TagSet FieldsOf(PlanLine line)
    {
        using var connection = database.Open();
        var contents = line.Track is { } track
            ? LibraryQueries.ContentsOf(connection, [track.Master.Id])[track.Master.Id]
            : line.File!.Contents;
        var tags = new TagSet();
        foreach (var field in contents.Fields)
            tags.Set(field.Name, field.Values);
        return tags;
    }

    private static CueSheet? ReadCue(string path)
    {
        try
        {
            return CueSheetReader.Read(PlainFile.ReadAll(path, MaxCueBytes)).Sheet;
        }
        catch (Exception failure) when (failure is IOException or UnauthorizedAccessException)
        {
            return null;
        }
    }

    /// <summary>
    /// The marks in a file. A sheet may call it by the extension that it had before it was converted; one that is the file's own and
    /// names a single file means this one, whatever it is called there.
    /// </summary>
    private static IReadOnlyList<SplitMark> MarksIn(CueSheet sheet, string path, bool isItsOwn)
    {
        var name = Path.GetFileNameWithoutExtension(path);
        int file = sheet.Files.Select(each => Path.GetFileNameWithoutExtension(each.Name.Replace('\\', '/')))
            .ToList()
            .FindIndex(each => each.Equals(name, StringComparison.OrdinalIgnoreCase));
        return FileSplit.MarksOf(sheet, file < 0 && isItsOwn && sheet.Files.Count == 1 ? 0 : file);
    }
}
