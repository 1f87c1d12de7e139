using Wergamon.Core.Naming;
using Wergamon.Core.Sync;

namespace Wergamon.Core.Sticks;

/// <summary>A file as it should be on a stick.</summary>
/// <param name="Key">Identifies it over time: a track in its place in a list.</param>
/// <param name="Path">From the top of the stick, with '/' between its parts.</param>
/// <param name="Sound">Identifies the sound of the source and what is made of it.</param>
/// <param name="Tags">Identifies tags and pictures, and how they are written.</param>
public sealed record WantedFile(StickKey Key, string Path, string Sound, string Tags);

/// <summary>A file that was written to a stick, as it was then.</summary>
/// <param name="Stamp">Its length and time.</param>
/// <param name="Turn">Rises from one file that is written to the next.</param>
public sealed record WrittenFile(StickKey Key, string Path, string Sound, string Tags, StickStamp Stamp, long Turn);

/// <param name="ModifiedAt">In milliseconds since 1970, rounded as the file system stores them.</param>
public readonly record struct StickStamp(long Bytes, long ModifiedAt);

/// <summary>What a file of a stick needs.</summary>
/// <param name="Wanted">Null for one that is gone.</param>
/// <param name="Written">Null for a new one.</param>
public sealed record StickStep(StickState State, WantedFile? Wanted, WrittenFile? Written)
{
    public StickKey Key => Wanted?.Key ?? Written!.Key;

    /// <summary>True when the whole file is written.</summary>
    public bool IsWritten => State is StickState.New or StickState.Deleted or StickState.Sound;

    /// <summary>True when it gets another name and keeps what it is.</summary>
    public bool IsMoved => State is StickState.Moved or StickState.Tags && Wanted!.Path != Written!.Path;
}

/// <summary>What a stick needs, and what on it is not ours.</summary>
/// <param name="Steps">In the order wanted, then what is gone.</param>
/// <param name="Foreign">Paths of files that were not written from here; they are never touched.</param>
public sealed record StickPlan(IReadOnlyList<StickStep> Steps, IReadOnlyList<string> Foreign);

/// <summary>Compares what should be on a stick with what was written to it and what is found there.</summary>
public static class StickComparison
{
    /// <param name="wanted">In play order; each key once, and no two paths equal, case ignored.</param>
    /// <param name="written">What was written before, by key.</param>
    /// <param name="there">All files on the stick with their stamps, by path.</param>
    /// <param name="playsInOrderOfWriting">True for a device that plays the files of a folder in the order in which they were
    /// written.</param>
    public static StickPlan Compare(
        IReadOnlyList<WantedFile> wanted, IReadOnlyDictionary<StickKey, WrittenFile> written, IReadOnlyDictionary<string, StickStamp> there,
        bool playsInOrderOfWriting)
    {
        // A file that somebody put where ours lay may differ from it in case alone.
        var found = new Dictionary<string, StickStamp>(StringComparer.OrdinalIgnoreCase);
        foreach (var (path, stamp) in there)
            found.TryAdd(path, stamp);
        var own = written.Values.Select(file => file.Path).ToHashSet(StringComparer.OrdinalIgnoreCase);
        var foreign = there.Keys.Where(path => !own.Contains(path)).ToList();
        var named = WithFreeNames(wanted, written, found, foreign);
        var steps = named.Select(
            file => written.TryGetValue(file.Key, out var known)
                ? new StickStep(StateOf(file, known, found), file, known)
                : new StickStep(StickState.New, file, null)).ToList();
        if (playsInOrderOfWriting)
            KeepOrder(steps);
        var asked = named.Select(file => file.Key).ToHashSet();
        steps.AddRange(
            written.Values.Where(file => !asked.Contains(file.Key) && found.ContainsKey(file.Path))
                .OrderBy(file => file.Path, StringComparer.Ordinal)
            .Select(file => new StickStep(found[file.Path] == file.Stamp ? StickState.Gone : StickState.ChangedThere, null, file)));
        return new StickPlan(steps, foreign);
    }

    /// <summary>The moves of a plan, ordered so that no file goes where another still is.</summary>
    /// <param name="aside">As <see cref="MoveOrder.Sort"/> takes it.</param>
    public static IReadOnlyList<FileMove> MovesOf(StickPlan plan, Func<string, string> aside) =>
        MoveOrder.Sort(plan.Steps.Where(step => step.IsMoved).Select(step => new FileMove(step.Written!.Path, step.Wanted!.Path)), aside);

    private static StickState StateOf(WantedFile wanted, WrittenFile written, Dictionary<string, StickStamp> found) =>
        !found.TryGetValue(written.Path, out var stamp) ? StickState.Deleted
        : stamp != written.Stamp ? StickState.ChangedThere
        : wanted.Sound != written.Sound ? StickState.Sound
        : wanted.Tags != written.Tags ? StickState.Tags
        : wanted.Path != written.Path ? StickState.Moved
        : StickState.UpToDate;

    /// <summary>
    /// A folder in which anything changes, or whose files were not written in this order, is rebuilt as a whole: in the gaps that removed
    /// entries leave, a file system puts new ones before old ones.
    /// </summary>
    private static void KeepOrder(List<StickStep> steps)
    {
        foreach (var folder in steps.Index().GroupBy(each => FolderOf(each.Item.Wanted!.Path), StringComparer.OrdinalIgnoreCase).ToList())
        {
            var turns = folder.Where(each => each.Item.State == StickState.UpToDate).Select(each => each.Item.Written!.Turn).ToList();
            bool isKept = folder.All(each => each.Item.State is StickState.UpToDate or StickState.ChangedThere)
                && turns.SequenceEqual(turns.Order());
            foreach (var (index, step) in folder.Where(each => !isKept && each.Item.State is StickState.UpToDate or StickState.Moved))
                steps[index] = step with { State = StickState.Order };
        }
    }

    /// <summary>Names that neither foreign files have nor what stays because somebody changed it.</summary>
    private static List<WantedFile> WithFreeNames(
        IReadOnlyList<WantedFile> wanted, IReadOnlyDictionary<StickKey, WrittenFile> written, Dictionary<string, StickStamp> found,
        IReadOnlyList<string> foreign)
    {
        var taken = new HashSet<string>(foreign, StringComparer.OrdinalIgnoreCase);
        foreach (var file in written.Values.Where(file => found.TryGetValue(file.Path, out var stamp) && stamp != file.Stamp))
            taken.Add(file.Path);
        var named = new List<WantedFile>(wanted.Count);
        foreach (var file in wanted)
        {
            bool staysThere = written.TryGetValue(file.Key, out var known) && found.TryGetValue(known.Path, out var stamp)
                && stamp != known.Stamp;
            var path = staysThere ? known!.Path : file.Path;
            for (int number = 2; !staysThere && !taken.Add(path); number++)
                path = TrackPath.Numbered(file.Path, number);
            named.Add(file with { Path = path });
        }

        return named;
    }

    private static string FolderOf(string path) => path[..(path.LastIndexOf('/') + 1)];
}
