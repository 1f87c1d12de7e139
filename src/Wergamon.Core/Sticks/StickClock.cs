using Wergamon.Core.Sync;

namespace Wergamon.Core.Sticks;

/// <summary>
/// Times of files on sticks. FAT keeps them in steps of two seconds and in local time (FAT32 File System Specification 1.03, date and time
/// formats), so that on a machine with another time zone, or after the clocks have changed, all files seem to be written hours earlier or
/// later.
/// </summary>
public static class StickClock
{
    private const long Step = 2_000, QuarterHour = 15 * 60 * 1000, Day = 24 * 60 * 60 * 1000;

    /// <summary>The last time that every file system keeps as it is, in milliseconds since 1970.</summary>
    public static long Lasting(long milliseconds) => milliseconds / Step * Step;

    /// <summary>
    /// By how many milliseconds the times of a stick have moved as a whole; 0 unless most of the files that were written say the same.
    /// </summary>
    /// <param name="found">All files on the stick, by path.</param>
    public static long ShiftOf(IReadOnlyCollection<WrittenFile> written, IReadOnlyDictionary<string, SyncStamp> found)
    {
        var shifts = written.Where(file => found.TryGetValue(file.Path, out var stamp) && stamp.Bytes == file.Stamp.Bytes)
            .Select(file => found[file.Path].ModifiedAt - file.Stamp.ModifiedAt)
            .ToList();
        var most = shifts.GroupBy(shift => shift).MaxBy(group => group.Count());
        return most is not null && 2 * most.Count() > shifts.Count && most.Key % QuarterHour == 0 && Math.Abs(most.Key) < Day
            ? most.Key
            : 0;
    }
}
