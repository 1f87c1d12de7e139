using CsCheck;
using Wergamon.Core.Naming;
using Wergamon.Core.Planning;
using Wergamon.Core.Sync;

namespace Wergamon.Core.Tests.Sync;

/// <summary>A stick brought in step with lists that change, while somebody uses it elsewhere and runs are interrupted.</summary>
public sealed class FolderComparisonTests
{
    private static readonly Gen<int[]> Lists = Gen.Int[0, 9].Array[0, 8].Select(tracks => tracks.Distinct().ToArray());

    /// <summary>
    /// What somebody does on the device between two runs: deletes, writes to one of our files, puts files of their own there.
    /// </summary>
    private static readonly Gen<(int Kind, int Which)[]> Edits = Gen.Select(Gen.Int[0, 2], Gen.Int[0, 9]).Array[0, 4];

    /// <summary>
    /// After the last run, which nothing interrupts, the stick holds what the list says, in play order, and nothing else but what is
    /// somebody's own: those files, and ours that somebody wrote to, are as they were left.
    /// </summary>
    [Fact]
    public void After_a_run_the_stick_holds_the_list_and_nothing_of_others_is_lost() =>
        Gen.Select(Gen.Select(Lists, Edits, Gen.Int[0, 30], Gen.Int[0, 3]).Array[1, 5], Gen.Bool).Sample(
            (rounds, playsInOrder) =>
            {
                var stick = new ModelStick();
                foreach (var (list, edits, interruptedAfter, version) in rounds)
                {
                    stick.Edit(edits);
                    stick.Run(Wanted(list, version), playsInOrder, interruptedAfter);
                }

                var wanted = Wanted(rounds[^1].Item1, rounds[^1].Item4);
                stick.Run(wanted, playsInOrder, int.MaxValue);
                stick.AssertHolds(wanted, playsInOrder);
                // A run with nothing to do does nothing.
                Assert.DoesNotContain(
                    stick.Compare(wanted, playsInOrder).Steps, step => step.State is not (SyncState.UpToDate or SyncState.ChangedThere));
            },
            iter: 2000);

    [Fact]
    public void Only_what_is_needed_is_done()
    {
        var stick = new ModelStick();
        stick.Run(Wanted([1, 2, 3], 0), false, int.MaxValue);
        // Track 2 goes to the front: three names change, no file is written.
        Assert.Equal([SyncState.Moved, SyncState.Moved, SyncState.UpToDate], States(stick, [2, 1, 3], 0, false));
        Assert.Equal([SyncState.Tags, SyncState.Tags, SyncState.Tags], States(stick, [1, 2, 3], 1, false));
        Assert.Equal([SyncState.Sound, SyncState.Sound, SyncState.Sound], States(stick, [1, 2, 3], 2, false));
        // A new one in the middle: by name the others move; by the order of writing all are placed again.
        Assert.Equal([SyncState.UpToDate, SyncState.New, SyncState.Moved, SyncState.Moved], States(stick, [1, 4, 2, 3], 0, false));
        Assert.Equal([SyncState.Order, SyncState.Order, SyncState.New, SyncState.Gone], States(stick, [1, 2, 4], 0, true));
    }

    /// <summary>The limits of FAT32 and exFAT as data.</summary>
    [Fact]
    public void File_systems_have_their_limits()
    {
        const long FourGigabytes = 1L << 32;
        Assert.Contains(
            "longer than a file on FAT32 can be", FileSystemRules.Fat32.ProblemOf([("a/b.wav", FourGigabytes)]), StringComparison.Ordinal);
        Assert.Null(FileSystemRules.Fat32.ProblemOf([("a/b.wav", FourGigabytes - 1)]));
        Assert.Null(FileSystemRules.ExFat.ProblemOf([("a/b.wav", 100 * FourGigabytes)]));
        // A name of 27 characters takes four entries of a folder: 16,384 of them fill it.
        var names = Enumerable.Range(0, 16_385).Select(i => ($"m/{i:00000} a title of its own.mp3", 1L)).ToList();
        Assert.Equal(4, FileSystemRules.EntriesOf(names[0].Item1[2..]));
        Assert.Null(FileSystemRules.Fat32.ProblemOf(names[1..]));
        Assert.Contains(
            "The folder m gets more files than FAT32 can hold", FileSystemRules.Fat32.ProblemOf(names), StringComparison.Ordinal);
    }

    private static IEnumerable<SyncState> States(ModelStick stick, int[] list, int version, bool playsInOrder) =>
        stick.Compare(Wanted(list, version), playsInOrder).Steps.Select(step => step.State);

    /// <param name="version">Odd ones have other tags, those from 2 on other sound.</param>
    private static List<WantedFile> Wanted(int[] list, int version) =>
        [
            .. list.Select(
                (track, place) =>
                    new WantedFile(
                        SyncKey.OfTrack(track), $"Night/{place + 1:00} Track {track}.mp3", SourceSound.OfText($"sound {version / 2}"),
                        $"tags {version % 2}"))
        ];

    /// <summary>A stick in memory, with the record of what was written.</summary>
    private sealed class ModelStick
    {
        private readonly Dictionary<string, (string Content, SyncStamp Stamp, long Entry)> _files = new(StringComparer.OrdinalIgnoreCase);
        private readonly Dictionary<SyncKey, WrittenFile> _written = [];
        private readonly Dictionary<string, string> _theirs = new(StringComparer.OrdinalIgnoreCase);
        private long _clock;

        public SyncPlan Compare(IReadOnlyList<WantedFile> wanted, bool playsInOrder) =>
            FolderComparison.Compare(wanted, _written, _files.ToDictionary(file => file.Key, file => file.Value.Stamp), playsInOrder);

        public void Edit(IEnumerable<(int Kind, int Which)> edits)
        {
            foreach (var (kind, which) in edits)
            {
                var path = _files.Keys.Order(StringComparer.Ordinal).ElementAtOrDefault(which % Math.Max(1, _files.Count));
                if (kind == 0 && path is not null)
                {
                    _files.Remove(path);
                    _theirs.Remove(path);
                }
                else if (kind == 1 && path is not null)
                {
                    Put(path, $"theirs {++_clock}");
                    _theirs[path] = _files[path].Content;
                }
                else
                {
                    // Often just where one of ours would go.
                    var own = $"Night/{which % 4 + 1:00} TRACK {which}.mp3";
                    Put(own, $"theirs {++_clock}");
                    _theirs[own] = _files[own].Content;
                }
            }
        }

        /// <summary>Carries a plan out, one step after the other; each step and its record are one.</summary>
        public void Run(IReadOnlyList<WantedFile> wanted, bool playsInOrder, int stepsUntilInterrupted)
        {
            var plan = Compare(wanted, playsInOrder);
            int left = stepsUntilInterrupted;
            foreach (var step in plan.Steps.Where(step => step.State == SyncState.Gone))
            {
                if (left-- <= 0)
                    return;
                _files.Remove(step.Written!.Path);
                _written.Remove(step.Key);
            }

            // What is written to another place, or placed again, leaves its name first.
            int asides = 0;
            foreach (var step in plan.Steps.Where(step => step.Written is { } written && _files.ContainsKey(written.Path)
                && (
                    step.IsWritten && written.Path != step.Wanted!.Path || step.State == SyncState.Order
                        || playsInOrder && step.State == SyncState.Tags)))
            {
                if (left-- <= 0)
                    return;
                Move(step.Written!.Path, $"{step.Written.Path}.aside{asides++}");
            }

            foreach (var move in playsInOrder ? [] : FolderComparison.MovesOf(plan.Steps, path => $"{path}.aside{asides++}"))
            {
                if (left-- <= 0)
                    return;
                Move(move.From, move.To);
            }

            foreach (var step in plan.Steps.Where(step => step.IsWritten || step.State is SyncState.Tags or SyncState.Order))
            {
                if (left-- <= 0)
                    return;
                var file = step.Wanted!;
                if (step.State == SyncState.Order)
                {
                    Move(_written[step.Key].Path, file.Path);
                    continue;
                }

                if (_files.TryGetValue(file.Path, out var there))
                    Assert.Equal(there.Stamp, _written[step.Key].Stamp);
                if (_written.TryGetValue(step.Key, out var before))
                    _files.Remove(before.Path);
                Put(file.Path, $"{file.Sound!.Digest}, {file.Tags}");
                _written[file.Key] = new WrittenFile(file.Key, file.Path, file.Sound, file.Tags, _files[file.Path].Stamp, _clock);
            }
        }

        private void Move(string from, string to)
        {
            Assert.False(_files.ContainsKey(to) && !from.Equals(to, StringComparison.OrdinalIgnoreCase), $"{to} is taken");
            var moved = _written.Values.Single(file => file.Path == from);
            _files.Remove(from, out var file);
            _files[to] = file with { Entry = ++_clock };
            _written[moved.Key] = moved with { Path = to, Turn = _clock };
        }

        public void AssertHolds(IReadOnlyList<WantedFile> wanted, bool playsInOrder)
        {
            foreach (var (path, content) in _theirs)
                Assert.Equal(content, _files[path].Content);
            var theirs = _theirs.Keys.ToHashSet(StringComparer.OrdinalIgnoreCase);
            var ours = wanted.Select(file => _written[file.Key]).ToList();
            foreach (var (file, known) in wanted.Zip(ours).Where(pair => !theirs.Contains(pair.Second.Path)))
                Assert.Equal($"{file.Sound!.Digest}, {file.Tags}", _files[known.Path].Content);
            Assert.Equal(
                _files.Keys.Except(theirs, StringComparer.OrdinalIgnoreCase).Order(StringComparer.Ordinal),
                ours.Select(file => file.Path).Where(path => !theirs.Contains(path)).Order(StringComparer.Ordinal));
            if (!playsInOrder)
                return;
            var entries = ours.Where(file => !theirs.Contains(file.Path)).Select(file => _files[file.Path].Entry).ToList();
            Assert.Equal(entries.Order(), entries);
        }

        private void Put(string path, string content) => _files[path] = (content, new SyncStamp(content.Length, ++_clock), _clock);
    }
}
