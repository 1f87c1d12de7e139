using System.Data;
using Wergamon.App.Copies;
using Wergamon.App.Runs;
using Wergamon.App.Tracks;
using Wergamon.Core.Jobs;
using Wergamon.Core.Naming;
using Wergamon.Core.Planning;
using Wergamon.Core.Sync;

namespace Wergamon.App.Convert;

/// <summary>What is done with a file that a mirror has made.</summary>
public enum MirrorAction
{
    /// <summary>It gets the present tags of its source.</summary>
    Tag,

    /// <summary>It gets another name.</summary>
    Move,

    /// <summary>It goes to the trash.</summary>
    Remove,
}

/// <summary>Where a file of a mirror is now; null for one in the trash.</summary>
public sealed record MirrorFileResult(string? Path);

/// <summary>Turns what a mirror needs into the items of a run: files that go, files that move, tags, and what is converted.</summary>
internal sealed class MirrorItems
{
    private readonly IDbConnection _connection;
    private readonly long _runId;
    private readonly MirrorView _view;

    /// <summary>The item after which a name is free.</summary>
    private readonly Dictionary<string, long> _freedBy = new(StringComparer.OrdinalIgnoreCase);

    private readonly Dictionary<long, long> _movedBy = [];

    private int _position;

    private readonly Dictionary<long, IReadOnlyList<JobField>> _fromNames;

    private MirrorItems(IDbConnection connection, long runId, MirrorView view)
    {
        (_connection, _runId, _view) = (connection, runId, view);
        _fromNames = LibraryQueries.FieldsFromNames(
            connection, view.ToDo.Where(line => line.Line is not null).Select(line => line.Line!.Track!.Master.Id));
    }

    public static void Insert(IDbConnection connection, long runId, MirrorView view)
    {
        var items = new MirrorItems(connection, runId, view);
        items.AddRemovals();
        items.AddMoves();
        items.AddTags();
        items.AddConversions();
    }

    private void AddRemovals()
    {
        foreach (var line in _view.ToDo.Where(line => line.Step.State == SyncState.Gone))
            _freedBy[line.Step.Written!.Path] = Add(line.Title, Lane.Files, SpecOf(line, MirrorAction.Remove));
    }

    private void AddMoves()
    {
        var movers = _view.ToDo.Where(line => line.Step.IsMoved).ToDictionary(line => line.Step.Written!.Path);
        var places = movers.Values.Select(line => line.Step.Wanted!.Path).Concat(movers.Keys).ToHashSet(StringComparer.OrdinalIgnoreCase);
        var at = movers.ToDictionary(pair => pair.Key, pair => pair.Value);
        foreach (var (from, to) in FolderComparison.MovesOf(movers.Values.Select(line => line.Step), Aside))
        {
            var line = at[from];
            at[to] = line;
            bool isLast = to == line.Step.Wanted!.Path;
            long id = Add(
                line.Title, Lane.Files, SpecOf(line, MirrorAction.Move) with { Path = from, To = to },
                isResult: isLast && line.Step.State == SyncState.Moved);
            foreach (var before in new[]
            {
                _freedBy.GetValueOrDefault(to), _movedBy.GetValueOrDefault(line.TrackId)
            }.Where(before => before > 0).Distinct())
                RunStore.InsertWait(_connection, id, before, WaitReason.Turn);
            _freedBy[from] = id;
            _movedBy[line.TrackId] = id;
        }

        string Aside(string path)
        {
            int number = 2;
            while (!places.Add(TrackPath.Numbered(path, number)) || PlainFile.Exists(TrackPath.Numbered(path, number)))
                number++;
            return TrackPath.Numbered(path, number);
        }
    }

    private void AddTags()
    {
        foreach (var line in _view.ToDo.Where(line => line.Step.State == SyncState.Tags))
        {
            var spec = SpecOf(line, MirrorAction.Tag) with { Entry = MirrorEntry.From(line.Step.Wanted!), Job = CopyOf(line).Job };
            long id = Add(line.Title, Lane.Worker, spec);
            if (_movedBy.TryGetValue(line.TrackId, out long move))
                RunStore.InsertWait(_connection, id, move, WaitReason.Turn);
        }
    }

    private void AddConversions()
    {
        foreach (var line in _view.ToDo.Where(line => line.Step.IsWritten))
        {
            var (wanted, made) = (line.Step.Wanted!, line.Step.Written);
            bool isRemade = line.Step.State == SyncState.Sound;
            var spec = CopyOf(line) with
            {
                Mirror = new MirrorSlot(_view.Mirror.Id, MirrorEntry.From(wanted)),
                OnConflict = isRemade && made!.Path == wanted.Path ? ConflictRule.Replace : _view.Target.OnConflict
            };
            long duration = (long)line.Line!.Planned!.Source.Facts.Duration.TotalMilliseconds;
            long id = RunStore.InsertItem(
                _connection, _runId, _position++,
                ConvertHandler.ItemKind.New(Lane.Worker, line.Title, duration, spec) with { CopyIds = [spec.SourceCopyId!.Value] });
            if (_freedBy.TryGetValue(wanted.Path, out long before))
                RunStore.InsertWait(_connection, id, before, WaitReason.Turn);
            if (!isRemade || made!.Path == wanted.Path)
                continue;
            long removal = Add(line.Title, Lane.Files, SpecOf(line, MirrorAction.Remove), isResult: false);
            RunStore.InsertWait(_connection, removal, id, WaitReason.Success);
        }
    }

    private MirrorFileSpec SpecOf(MirrorLine line, MirrorAction action) =>
        new(_view.Mirror.Id, line.TrackId, action, line.Step.Written!.Path) { Root = _view.Mirror.OutputFolder };

    private CopySpec CopyOf(MirrorLine line) =>
        PlanItems.SpecOf(line.Line!, line.Line!.Track!, _fromNames.GetValueOrDefault(line.Line.Track!.Master.Id) ?? []);

    private long Add(string title, string lane, MirrorFileSpec spec, bool isResult = true) =>
        RunStore.InsertItem(
            _connection, _runId, _position++, MirrorFileHandler.ItemKind.New(lane, title, 1, spec) with { IsResult = isResult });
}
