using Wergamon.App.Files;
using Wergamon.Core.Audio;

namespace Wergamon.App.Library.Scan;

/// <summary>
/// Finds known copies that have another path now. A file has moved when its stamp is found at a new path and no
/// longer at its old one. Where several could be meant, the one with the same number is, else the one with the same name, and
/// otherwise none.
/// </summary>
internal static class FileMoves
{
    /// <param name="known">Copies by number, with the path and stamp they had.</param>
    /// <param name="present">What is there now.</param>
    /// <returns>The new path of each copy that has moved; no path is given twice, and none that a copy keeps.</returns>
    public static Dictionary<long, string> Find(
        IReadOnlyCollection<(long Id, string Path, FileStamp Stamp)> known, IReadOnlyDictionary<string, FileStamp> present)
    {
        var unsettled = known.Where(copy => !present.TryGetValue(copy.Path, out var stamp) || !stamp.Fits(copy.Stamp)).ToList();
        if (unsettled.Count == 0)
            return [];
        var settled = known.Except(unsettled).Select(copy => copy.Path).ToHashSet();
        var places = present.Where(file => !settled.Contains(file.Key)).ToLookup(file => file.Value.SizeAndTime, file => file.Key);
        var moves = new Dictionary<long, string>();
        foreach (var group in unsettled.GroupBy(copy => copy.Stamp.SizeAndTime))
        {
            var free = places[group.Key].ToList();
            var rest = group.ToList();
            foreach (var copy in group)
            {
                if (free.Where(path => present[path].SharesNumber(copy.Stamp)).ToList() is [var same])
                    Move(copy, same);
            }

            // If another file of that size and time is there now, the copy has changed, not moved.
            rest.RemoveAll(copy => free.Remove(copy.Path));
            foreach (var copy in rest.ToList().Where(_ => free.Count + rest.Count > 2))
            {
                if (free.Where(path => Path.GetFileName(path) == Path.GetFileName(copy.Path)).ToList() is not [var namesake]
                    || rest.Count(other => Path.GetFileName(other.Path) == Path.GetFileName(namesake)) != 1)
                    continue;
                Move(copy, namesake);
            }

            if (free is [var only] && rest is [var mover])
                Move(mover, only);

            void Move((long Id, string Path, FileStamp Stamp) copy, string path)
            {
                moves[copy.Id] = path;
                free.Remove(path);
                rest.Remove(copy);
            }
        }

        DropTaken(moves, unsettled);
        return moves;
    }

    /// <summary>The path of another copy that is still there, only with other content, is not free.</summary>
    private static void DropTaken(Dictionary<long, string> moves, List<(long Id, string Path, FileStamp Stamp)> unsettled)
    {
        var holders = unsettled.ToDictionary(copy => copy.Path, copy => copy.Id);
        while (moves.Where(move => holders.TryGetValue(move.Value, out long holder) && !moves.ContainsKey(holder))
            .Select(move => move.Key)
            .ToList() is { Count: > 0 } taken)
        {
            foreach (long id in taken)
                moves.Remove(id);
        }
    }
}
