using System.Collections.Concurrent;
using Wergamon.App.Files;
using Wergamon.App.Runs;
using Wergamon.Core.Sticks;
using Wergamon.Core.Sync;

namespace Wergamon.App.Deliver.Sticks;

/// <summary>Lets steps touch a stick only while it is connected; a run whose stick is removed or full waits.</summary>
public sealed class StickGuard(StickStore store)
{
    /// <summary>With less free space a stick counts as full.</summary>
    private const long FullBelowBytes = 1 << 20;

    /// <summary>
    /// By how much the clocks of sticks have moved since their files were written, in milliseconds; worked out once for each time that one
    /// is plugged in.
    /// </summary>
    private readonly ConcurrentDictionary<(long StickId, string Place, long MarkTime), long> _shifts = new();

    /// <param name="bytes">What is about to be written.</param>
    /// <exception cref="RunStoppedException">The stick is away, another one is in its place, or it is full.</exception>
    internal static ItemOutcome Run(string place, string mark, long bytes, Func<ItemOutcome> step)
    {
        StopIfAway(place, mark);
        try
        {
            return step();
        }
        catch (Exception failure) when (failure is IOException or UnauthorizedAccessException)
        {
            StopIfAway(place, mark);
            if (FreeSpace.At(place) is { } free && free < bytes + FullBelowBytes)
                throw new RunStoppedException(
                    $"The stick at {place} is full ({free / 1_000_000} MB free). The run continues once there is space.", failure)
                { WaitsFor = new DestinationWait(place, bytes + FullBelowBytes) };
            throw;
        }
    }

    /// <summary>The stamp of a file as it would be if the clock of the stick had not moved; null where there is none.</summary>
    internal SyncStamp? StampAt(long stickId, string place, string path)
    {
        if (StickPlaces.StampAt(place, path) is not { } stamp)
            return null;
        long markTime = PlainFile.ModifiedUtc(Path.Combine(place, StickMark.FileName)).Ticks;
        long shift = _shifts.GetOrAdd(
            (stickId, place, markTime),
            _ =>
                StickClock.ShiftOf(
                    [.. store.Files(stickId, _ => null).Files.Values.Select(file => file.File)], StickPlaces.FilesAt(place)));
        return stamp with { ModifiedAt = stamp.ModifiedAt - shift };
    }

    internal static void StopIfAway(string place, string mark)
    {
        var there = StickPlaces.MarkAt(place);
        if (there?.Stick == mark)
            return;
        if (there is not null)
            throw new RunStoppedException($"Another stick, “{there.Name}”, is at {place} now. Plug the first one in again, then continue.");
        throw new RunStoppedException(
            $"The stick at {place} is no longer there. Plug it in again: the run continues automatically.")
        { WaitsFor = new DestinationWait(Path.Combine(place, StickMark.FileName), 0) };
    }
}
