using System.Data;
using System.Globalization;
using Wergamon.App.Files;
using Wergamon.App.Runs;
using Wergamon.App.Tracks;
using Wergamon.Core.Jobs;
using Wergamon.Core.Sticks;
using Wergamon.Core.Sync;

namespace Wergamon.App.Deliver.Sticks;

/// <summary>
/// Turns what a stick needs into the items of a run: files that go, files that move, then what is written, in play order. What is done on
/// the stick is done one after the other, but for reading back; converting runs ahead of it.
/// </summary>
internal sealed class StickItems
{
    /// <summary>The weight of copying a byte, in milliseconds of playing time: 5 MB count as much as converting half a minute.</summary>
    private const long BytesPerWeight = 200;

    /// <summary>The weight of copying a file.</summary>
    public static long WeightOf(long bytes) => Math.Max(1, bytes / BytesPerWeight);

    /// <summary>Files that leave their path before they get another one are stored at the top of the stick under such a name.</summary>
    public const string AsidePrefix = Placement.TemporaryPrefix + "aside-";

    private readonly IDbConnection _connection;
    private readonly long _runId;
    private readonly StickView _view;
    private readonly string _spool;
    private readonly ILookup<long, Core.Tags.TagField> _notes;
    private readonly Dictionary<long, IReadOnlyList<JobField>> _fromNames;
    private readonly bool _playsInOrder;

    /// <summary>Where a file is once the moves before are done, by key.</summary>
    private readonly Dictionary<SyncKey, string> _places = [];

    /// <summary>The last item that moves a file, by key.</summary>
    private readonly Dictionary<SyncKey, long> _movedBy = [];

    private readonly List<long> _all = [];

    /// <summary>What nothing but the end waits for.</summary>
    private readonly List<long> _written = [];

    /// <summary>The item that the next on the stick waits for.</summary>
    private long? _last;
    private int _asides;

    private StickItems(IDbConnection connection, long runId, StickView view, ITrackNotes notes, string spool)
    {
        (_connection, _runId, _view, _spool) = (connection, runId, view, spool);
        _playsInOrder = view.Device.Order == PlayOrder.ByWriting;
        var tracks = view.ToDo.Where(line => line.Track is not null).Select(line => line.Track!.Track).ToList();
        _notes = notes.FieldsOf([.. tracks.Select(track => track.Id).Distinct()]);
        _fromNames = LibraryQueries.FieldsFromNames(connection, tracks.Select(track => track.Master.Id).Distinct());
    }

    /// <returns>The numbers of the items.</returns>
    public static IReadOnlyList<long> Insert(IDbConnection connection, long runId, StickView view, ITrackNotes notes, string spool)
    {
        var items = new StickItems(connection, runId, view, notes, spool);
        items.AddRemovals();
        items.AddAsides();
        items.AddMoves();
        items.AddFiles();
        items.AddEnd();
        return items._all;
    }

    private void AddRemovals()
    {
        foreach (var line in _view.ToDo.Where(line => line.Step.State == SyncState.Gone))
            AddToStick(line, SpecOf(line, StickAction.Remove) with { From = line.Step.Written!.Path });
    }

    /// <summary>Files that get another path, or another place in the order, first free their name for others.</summary>
    private void AddAsides()
    {
        foreach (var line in _view.ToDo.Where(NeedsAside))
        {
            var aside = AsideFor(line.Step.Written!.Path);
            AddMove(line, line.Step.Written.Path, aside, isResult: false);
            _places[line.Step.Key] = aside;
        }
    }

    private bool NeedsAside(StickLine line) => line.Step is { Written: { } written, Wanted: { } wanted, State: not SyncState.Deleted }
        && (
            line.Step.State == SyncState.Order || line.Step.State == SyncState.Sound && written.Path != wanted.Path
                || _playsInOrder && line.Step.State is SyncState.Sound or SyncState.Tags);

    private void AddMoves()
    {
        if (_playsInOrder)
            return;
        var at = _view.ToDo.Where(line => line.Step.IsMoved).ToDictionary(line => line.Step.Written!.Path);
        foreach (var (from, to) in FolderComparison.MovesOf(at.Values.Select(line => line.Step), AsideFor))
        {
            var line = at[from];
            at[to] = line;
            AddMove(line, from, to, isResult: to == line.Step.Wanted!.Path && line.Step.State == SyncState.Moved);
            _places[line.Step.Key] = to;
        }
    }

    private void AddFiles()
    {
        foreach (var line in _view.ToDo.Where(line => line.Step.Wanted is not null && line.Step.State != SyncState.Moved))
        {
            if (line.Step.State == SyncState.Order)
                AddMove(line, _places[line.Step.Key], line.Step.Wanted!.Path, isResult: true);
            else if (line.Playlist is { } playlist)
                AddToStick(line, WritingOf(line) with { Text = playlist.Text });
            else if (line.Track is { IsCopied: true } copied)
                AddToStick(line, WritingOf(line) with { SourcePath = copied.Track.Master.Path }, copied.Track.Master.Id);
            else
                AddMade(line);
        }
    }

    /// <summary>A file that a worker makes first.</summary>
    private void AddMade(StickLine line)
    {
        var track = line.Track!;
        bool isTags = line.Step.State == SyncState.Tags;
        var copy = DeliveredFiles.CopyOf(track.Track, track.Planned, _spool, [.. FieldsOf(track)]);
        // Of two tracks of one name in the spool, the second must not replace the first.
        copy = copy with
        {
            RelativePath = string.Create(CultureInfo.InvariantCulture, $"{_all.Count:00000}{copy.Target.Format.Extension}")
        };
        var item = isTags
            ? StickTagHandler.ItemKind.New(
                Lane.Worker, line.Title, WeightOf(line.Step.Written!.Stamp.Bytes),
                new StickTagSpec(_view.Row.Id, _view.Place!, line.Step.Key, copy.Job! with { OutputPath = copy.WantedPath }))
            : DeliverFileHandler.ItemKind.New(Lane.Worker, line.Title, (long)track.Track.Master.Facts.Duration.TotalMilliseconds, copy);
        long made = Add(item with { IsResult = false, CopyIds = [track.Track.Master.Id] });
        long written = AddToStick(line, WritingOf(line) with { SourcePath = copy.WantedPath, IsSourceTemporary = true });
        RunStore.InsertWait(_connection, written, made, WaitReason.Success);
        // Its tags are read from where it is by then.
        if (_movedBy.TryGetValue(line.Step.Key, out long move))
            RunStore.InsertWait(_connection, made, move, WaitReason.Turn);
    }

    private IEnumerable<JobField> FieldsOf(StickTrack track)
    {
        var notes = _notes[track.Track.Id].Select(field => new JobField(field.Name, field.Values)).ToList();
        var said = notes.Select(field => field.Name).ToHashSet(StringComparer.OrdinalIgnoreCase);
        return (_fromNames.GetValueOrDefault(track.Track.Master.Id) ?? []).Where(field => !said.Contains(field.Name)).Concat(notes);
    }

    private void AddEnd()
    {
        long end = Add(
            StickEndHandler.ItemKind.New(
                Lane.Stick(_view.Row.Id), "Finishing", 1,
                new StickFileSpec(_view.Row.Id, _view.Place!, _view.Settings.Mark, StickAction.Write, default)) with
            { IsResult = false });
        foreach (long before in _last is { } last ? _written.Append(last) : _written)
            RunStore.InsertWait(_connection, end, before, WaitReason.End);
    }

    private void AddMove(StickLine line, string from, string to, bool isResult) =>
        _movedBy[line.Step.Key] = AddToStick(line, SpecOf(line, StickAction.Move) with { From = from, To = to }, isResult: isResult);

    /// <summary>Adds a step on the stick, after the one before.</summary>
    private long AddToStick(StickLine line, StickFileSpec spec, long? copyId = null, bool isResult = true)
    {
        long weight = spec.Action == StickAction.Write ? WeightOf(line.BytesToWrite) : 1;
        long id = Add(
            StickFileHandler.ItemKind.New(Lane.Stick(_view.Row.Id), line.Title, weight, spec) with
            {
                IsResult = isResult,
                CopyIds = copyId is { } copy ? [copy] : []
            });
        // Writing need not wait for reading back, unless the order of writing matters; the lane keeps writing in order.
        if (_last is { } before)
            RunStore.InsertWait(_connection, id, before, WaitReason.Turn);
        if (_playsInOrder || spec.Action != StickAction.Write)
            _last = id;
        else
            _written.Add(id);
        return id;
    }

    private StickFileSpec SpecOf(StickLine line, StickAction action) =>
        new(_view.Row.Id, _view.Place!, _view.Settings.Mark, action, line.Step.Key);

    private StickFileSpec WritingOf(StickLine line) => SpecOf(line, StickAction.Write) with
    {
        From = line.Step.State is SyncState.New or SyncState.Deleted
            ? null
            : _places.GetValueOrDefault(line.Step.Key) ?? line.Step.Written?.Path,
        To = line.Step.Wanted!.Path,
        Sound = StickStore.Write(line.Step.Wanted.Sound),
        Tags = line.Step.Wanted.Tags,
        Notes = line.Track?.Notes ?? StickNotes.None,
    };

    private string AsideFor(string path) =>
        string.Create(CultureInfo.InvariantCulture, $"{AsidePrefix}{_runId}-{_asides++}{Path.GetExtension(path)}");

    private long Add(NewItem item)
    {
        long id = RunStore.InsertItem(_connection, _runId, _all.Count, item);
        _all.Add(id);
        return id;
    }
}
