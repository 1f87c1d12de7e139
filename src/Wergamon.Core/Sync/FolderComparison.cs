using Wergamon.Core.Naming;
using Wergamon.Core.Planning;

namespace Wergamon.Core.Sync;

/// <summary>A file as it should be in a folder that is kept in step.</summary>
/// <param name="Key">Identifies it over time: a track, a track in its place in a list, a playlist.</param>
/// <param name="Path">With '/' between its parts; all paths of a comparison begin at the same place.</param>
/// <param name="Sound">The sound of the source and what is made of it; null while the source is missing.</param>
/// <param name="Tags">Identifies tags and pictures, and how they are written.</param>
public sealed record WantedFile(SyncKey Key, string Path, SourceSound? Sound, string Tags);

/// <summary>A file that was written, as it was then.</summary>
/// <param name="Sound">Null if it is not known, as for a file that was not written from here.</param>
/// <param name="Stamp">Its length and time; the same for all files where changes by others are not looked for.</param>
/// <param name="Turn">Rises from one file that is written to the next.</param>
public sealed record WrittenFile(SyncKey Key, string Path, SourceSound? Sound, string Tags, SyncStamp Stamp, long Turn);

/// <param name="ModifiedAt">In milliseconds since 1970, rounded as the file system stores them.</param>
public readonly record struct SyncStamp(long Bytes, long ModifiedAt);

/// <summary>What a file needs.</summary>
/// <param name="Wanted">Null for one that is gone.</param>
/// <param name="Written">Null for a new one.</param>
public sealed record SyncStep(SyncState State, WantedFile? Wanted, WrittenFile? Written)
{
    public SyncKey Key => Wanted?.Key ?? Written!.Key;

    /// <summary>True when the whole file is written.</summary>
    public bool IsWritten => State is SyncState.New or SyncState.Deleted or SyncState.Sound;

    /// <summary>True when it gets another name and keeps what it is.</summary>
    public bool IsMoved => State is SyncState.Moved or SyncState.Tags && Wanted!.Path != Written!.Path;

    public bool IsToDo => State is not (SyncState.UpToDate or SyncState.ChangedThere or SyncState.NotAnalysed or SyncState.SourceMissing);

    /// <summary>
    /// What was written, with the digest that its source has got since, so that later changes of tags and of sound can be told apart; null
    /// where nothing has been learned.
    /// </summary>
    public WrittenFile? Analysed { get; init; }
}

/// <summary>What a folder needs, and what in it is not ours.</summary>
/// <param name="Steps">In the order wanted, then what is gone.</param>
/// <param name="Foreign">Paths of files that were not written from here; they are never touched.</param>
/// <param name="Vanished">What was written, is no longer wanted and is no longer there: nothing is left to do but to forget it.</param>
public sealed record SyncPlan(IReadOnlyList<SyncStep> Steps, IReadOnlyList<string> Foreign, IReadOnlyList<WrittenFile> Vanished);

/// <summary>Compares what should be in a folder with what was written to it and what is found there.</summary>
public static class FolderComparison
{
    /// <param name="wanted">In play order; each key once, and no two paths equal, case ignored.</param>
    /// <param name="written">What was written before, by key.</param>
    /// <param name="there">All files of the folder with their stamps, by path; where foreign files do not matter, those that were written
    /// from here and exist.</param>
    /// <param name="playsInOrderOfWriting">True for a device that plays the files of a folder in the order in which they were
    /// written.</param>
    public static SyncPlan Compare(
        IReadOnlyList<WantedFile> wanted, IReadOnlyDictionary<SyncKey, WrittenFile> written, IReadOnlyDictionary<string, SyncStamp> there,
        bool playsInOrderOfWriting)
    {
        // A file that somebody put where ours lay may differ from it in case alone.
        var found = new Dictionary<string, SyncStamp>(StringComparer.OrdinalIgnoreCase);
        foreach (var (path, stamp) in there)
            found.TryAdd(path, stamp);
        var own = written.Values.Select(file => file.Path).ToHashSet(StringComparer.OrdinalIgnoreCase);
        var foreign = there.Keys.Where(path => !own.Contains(path)).ToList();
        var named = WithFreeNames(wanted, written, found, foreign);
        var steps = named.Select(
            file => written.TryGetValue(file.Key, out var known)
                ? StepFor(file, known, found)
                : new SyncStep(file.Sound is null ? SyncState.SourceMissing : SyncState.New, file, null)).ToList();
        if (playsInOrderOfWriting)
            KeepOrder(steps, found);
        var asked = named.Select(file => file.Key).ToHashSet();
        var unwanted = written.Values.Where(file => !asked.Contains(file.Key)).OrderBy(file => file.Path, StringComparer.Ordinal)
            .ToLookup(file => found.ContainsKey(file.Path));
        steps.AddRange(
            unwanted[true].Select(
                file => new SyncStep(found[file.Path] == file.Stamp ? SyncState.Gone : SyncState.ChangedThere, null, file)));
        return new SyncPlan(steps, foreign, [.. unwanted[false]]);
    }

    /// <summary>The moves among some steps, ordered so that no file goes where another still is.</summary>
    /// <param name="aside">As <see cref="MoveOrder.Sort"/> takes it.</param>
    public static IReadOnlyList<FileMove> MovesOf(IEnumerable<SyncStep> steps, Func<string, string> aside) =>
        MoveOrder.Sort(steps.Where(step => step.IsMoved).Select(step => new FileMove(step.Written!.Path, step.Wanted!.Path)), aside);

    private static SyncStep StepFor(WantedFile wanted, WrittenFile written, Dictionary<string, SyncStamp> found)
    {
        if (wanted.Sound is not { } now)
            return new SyncStep(
                found.TryGetValue(written.Path, out var stamp) && stamp != written.Stamp ? SyncState.ChangedThere : SyncState.SourceMissing,
                wanted with { Path = written.Path, Sound = written.Sound, Tags = written.Tags }, written);
        var then = written.Sound;
        var isSame = then is null ? false : now.IsSoundOf(then);
        bool isLearned = isSame == true && then!.Digest is null && now.Digest is not null;
        var state = StateOf(wanted, written, isSame, found);
        // Until more is known, what was written counts.
        var sound = isSame == false || isLearned || state == SyncState.Deleted ? now : then;
        return new SyncStep(state, wanted with { Sound = sound }, written)
        {
            Analysed = isLearned ? written with { Sound = now } : null,
        };
    }

    private static SyncState StateOf(WantedFile wanted, WrittenFile written, bool? isSame, Dictionary<string, SyncStamp> found) =>
        !found.TryGetValue(written.Path, out var stamp) ? SyncState.Deleted
        : stamp != written.Stamp ? SyncState.ChangedThere
        : isSame == false ? SyncState.Sound
        : wanted.Tags != written.Tags ? SyncState.Tags
        : wanted.Path != written.Path ? SyncState.Moved
        : isSame is null ? SyncState.NotAnalysed
        : SyncState.UpToDate;

    /// <summary>
    /// A folder in which anything changes, or whose files were not written in this order, is rebuilt as a whole: in the gaps that removed
    /// entries leave, a file system puts new ones before old ones.
    /// </summary>
    private static void KeepOrder(List<SyncStep> steps, Dictionary<string, SyncStamp> found)
    {
        foreach (var folder in steps.Index().GroupBy(each => FolderOf(each.Item.Wanted!.Path), StringComparer.OrdinalIgnoreCase).ToList())
        {
            var turns = folder.Where(each => IsInPlace(each.Item)).Select(each => each.Item.Written!.Turn).ToList();
            bool isKept = folder.All(each => !each.Item.IsToDo) && turns.SequenceEqual(turns.Order());
            foreach (var (index, step) in folder.Where(each => !isKept && (IsInPlace(each.Item) || each.Item.State == SyncState.Moved)))
                steps[index] = step with { State = SyncState.Order };
        }

        bool IsInPlace(SyncStep step) => step.State is SyncState.UpToDate or SyncState.NotAnalysed
            || step is { State: SyncState.SourceMissing, Written: { } written } && found.ContainsKey(written.Path);
    }

    /// <summary>Names that neither foreign files have nor what stays: because somebody changed it, or without its source.</summary>
    private static List<WantedFile> WithFreeNames(
        IReadOnlyList<WantedFile> wanted, IReadOnlyDictionary<SyncKey, WrittenFile> written, Dictionary<string, SyncStamp> found,
        IReadOnlyList<string> foreign)
    {
        var taken = new HashSet<string>(foreign, StringComparer.OrdinalIgnoreCase);
        var missing = wanted.Where(file => file.Sound is null).Select(file => file.Key).ToHashSet();
        foreach (var file in written.Values.Where(Stays))
            taken.Add(file.Path);
        var named = new List<WantedFile>(wanted.Count);
        foreach (var file in wanted)
        {
            bool staysThere = written.TryGetValue(file.Key, out var known) && Stays(known);
            var path = staysThere ? known!.Path : file.Path;
            for (int number = 2; !staysThere && !taken.Add(path); number++)
                path = TrackPath.Numbered(file.Path, number);
            named.Add(file with { Path = path });
        }

        return named;

        bool Stays(WrittenFile file) =>
            found.TryGetValue(file.Path, out var stamp) && (stamp != file.Stamp || missing.Contains(file.Key));
    }

    private static string FolderOf(string path) => path[..(path.LastIndexOf('/') + 1)];
}
