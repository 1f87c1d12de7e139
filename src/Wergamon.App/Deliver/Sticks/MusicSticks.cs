using Wergamon.App.Runs;
using Wergamon.App.Tracks;
using Wergamon.Core.Sticks;

namespace Wergamon.App.Deliver.Sticks;

/// <summary>Sticks: identified by a mark on them, and updated with the sets and albums that they should hold.</summary>
public sealed class MusicSticks(
    DeliveryStore store, DeliveryRuns starts, DeviceChoices devices, StickPlaces places, StickViews views, ITrackNotes notes,
    DeliverySpool spool)
{
    public static readonly RunKind RunKind = new("stick", Station.Deliver, "Updating", "done");

    /// <summary>The sticks that are known.</summary>
    public IReadOnlyList<DeliveryRow> List() =>
        [.. store.List().Where(row => row.Kind == DeliveryKind.Stick).OrderBy(row => row.Title, StringComparer.OrdinalIgnoreCase)];

    public bool IsThere(DeliveryRow row) => places.Find(StickSettings.Of(row)) is not null;

    /// <summary>
    /// Adds the stick at a path; a known one is returned. Returns the reason, for the person, when it cannot be used.
    /// </summary>
    /// <param name="title">Null for the name of its folder.</param>
    public (long? Id, string? Problem) Add(string? place, string? title, string deviceKey)
    {
        var check = places.Check(place);
        if (check.Path is not { } path)
            return (null, check.Refusal);
        var mark = StickPlaces.MarkAt(path);
        if (mark is not null && List().FirstOrDefault(row => StickSettings.Of(row).Mark == mark.Stick) is { } known)
        {
            store.SetSettings(known.Id, (StickSettings.Of(known) with { Place = path, Number = StickPlaces.NumberOf(path) }).ToJson());
            return (known.Id, null);
        }

        var name = DeliveryStore.TitleOf(title) is { Length: > 0 } given ? given : DeliveryStore.TitleOf(Path.GetFileName(path));
        // The mark of a stick made by another library is kept: both recognise it.
        mark ??= new StickMark(Guid.NewGuid().ToString("N"), name);
        try
        {
            places.WriteMark(path, mark);
        }
        catch (Exception failure) when (failure is IOException or UnauthorizedAccessException)
        {
            return (null, $"{path} cannot be written to: {failure.Message}");
        }

        return (
            store.Create(
                DeliveryKind.Stick, name,
                new StickSettings(path, mark.Stick, devices.Get(deviceKey).Key) { Number = StickPlaces.NumberOf(path) }.ToJson(), []),
            null);
    }

    /// <summary>Sets another path of a stick; returns the reason, for the person, when the stick is not there.</summary>
    public string? SetPlace(long id, string? place)
    {
        if (store.Get(id) is not { Kind: DeliveryKind.Stick } row)
            return "This stick is no longer known.";
        var check = places.Check(place);
        if (check.Path is not { } path)
            return check.Refusal;
        var stick = StickSettings.Of(row);
        if (StickPlaces.MarkAt(path)?.Stick != stick.Mark)
            return $"“{row.Title}” is not at {path}. For another stick, add it in Deliver.";
        store.SetSettings(id, (stick with { Place = path, Number = StickPlaces.NumberOf(path) }).ToJson());
        return null;
    }

    public void SetDevice(long id, string deviceKey)
    {
        if (store.Get(id) is { Kind: DeliveryKind.Stick } row)
            store.SetSettings(id, (StickSettings.Of(row) with { DeviceKey = devices.Get(deviceKey).Key }).ToJson());
    }

    /// <summary>Starts to bring a stick up to date; gives the run, or the reason, for the person, why that is not possible.</summary>
    public (long? RunId, string? Problem) Update(long id)
    {
        if (views.Reconcile(id) is not { } view)
            return (null, "This stick is no longer known.");
        if (view.Problem is { } problem)
            return (null, problem);
        if (view.ToDo.Count == 0)
            return (null, "Everything on the stick is up to date.");
        return starts.Start(
            id, new NewRun(RunKind, view.Row.Title, view.Device.Name, view.Place),
            (connection, run) => StickItems.Insert(connection, run, view, notes, spool.FolderOf(run)));
    }
}
