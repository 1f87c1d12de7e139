using System.Collections.Concurrent;
using System.Data;
using Wergamon.App.Tracks;
using Wergamon.Core.Planning;

namespace Wergamon.App.Convert;

/// <summary>Caches what was computed for the lines of plans, so that only changed lines are computed again.</summary>
internal sealed class PlanMemory
{
    private const int MaxPlans = 4;

    private readonly ConcurrentDictionary<long, Dictionary<int, (Basis Basis, PlanItem Item)>> _plans = new();

    /// <summary>All that the plan of a line depends on; tags and pictures change with the file.</summary>
    private sealed record Basis(
        CopyRow Master, string Title, string AlbumTitle, int? Stream, TrackException? Exception, TrackPart? Part, string Appended,
        KnownSound? Known, Target Target, string Folder);

    /// <summary>As <see cref="Planner.PlanAlone(IEnumerable{PlanSource}, Target, string)"/>, for lines whose file is there.</summary>
    public IReadOnlyList<PlanItem> PlanAlone(
        IDbConnection connection, long planId, Target target, string folder, IReadOnlyList<PlanLine> lines)
    {
        var tracks = lines.Select(line => line.Track).OfType<TrackRow>().DistinctBy(track => track.Id);
        var known = KnownSounds.Of(
            connection, tracks.ToDictionary(track => track.Master.Id, track => track.AlbumId),
            target.Level is { NeedsMeasuring: true, AlbumAsOne: true });
        var before = _plans.GetValueOrDefault(planId) ?? [];
        var after = new Dictionary<int, (Basis Basis, PlanItem Item)>(lines.Count);
        var items = new PlanItem?[lines.Count];
        var changed = new List<int>();
        for (int i = 0; i < lines.Count; i++)
        {
            var line = lines[i];
            if (line.Track is { } track && before.TryGetValue(line.Position, out var remembered)
                && remembered.Basis == BasisOf(line, track))
                (items[i], after[line.Position]) = (remembered.Item, remembered);
            else
                changed.Add(i);
        }

        var sources = new PlanSources(connection, target, [.. changed.Select(i => lines[i])], known);
        var planned = Planner.PlanAlone(sources.All(), target, folder);
        for (int i = 0; i < changed.Count; i++)
        {
            var line = lines[changed[i]];
            items[changed[i]] = planned[i];
            if (line.Track is { } track)
                after[line.Position] = (BasisOf(line, track), planned[i]);
        }

        if (_plans.Count >= MaxPlans && !_plans.ContainsKey(planId))
            _plans.Clear();
        _plans[planId] = after;
        return items!;

        Basis BasisOf(PlanLine line, TrackRow track) =>
            new(
                track.Master, track.Title, track.AlbumTitle, line.Stream, line.Exception, line.Part,
                string.Join('\n', line.Appended.Select(each => $"{each.FilePath} {each.FileFacts.FrameCount}")),
                known.GetValueOrDefault(track.Master.Id), target, folder);
    }
}
