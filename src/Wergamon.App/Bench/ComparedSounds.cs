using Wergamon.App.Copies;
using Wergamon.App.Files;
using Wergamon.App.Tracks;
using Wergamon.App.Workers;
using Wergamon.Core.Jobs;
using Wergamon.Core.Planning;

namespace Wergamon.App.Bench;

/// <summary>Finds what is to be compared: copies of the library, or any files in allowed folders.</summary>
public sealed class ComparedSounds(LibraryQueries library, CopyFiles copies, AllowedPaths allowed, WorkerPool workers)
{
    /// <summary>A copy as it is now; null when its file is missing.</summary>
    public ComparedSound? Of(long copyId) =>
        library.Copy(copyId) is { IsMissing: false } copy && library.TracksById([copy.TrackId]) is [var track]
            ? ComparedSound.Of(copy, track)
            : null;

    /// <summary>A file as it is now: its copy if the library lists it.</summary>
    /// <param name="typed">A whole path as typed.</param>
    /// <returns>The sound, or why it cannot be compared.</returns>
    public async Task<(ComparedSound? Sound, string? Problem)> OfAsync(string? typed, CancellationToken cancellation)
    {
        var path = (typed ?? "").Trim();
        if (!Path.IsPathFullyQualified(path) || path.Contains('\0', StringComparison.Ordinal))
            return (null, "Enter the full path of each file, starting with /.");
        if (!allowed.MayRead(path))
            return (null, $"{path} is missing, or not a file in an allowed folder.");
        if (copies.At(path) is { } copy && Of(copy.Id) is { } known)
            return (known, null);
        try
        {
            var reply = await workers.RunAsync(new ProbeJob(path), WorkerPriority.Interactive, null, cancellation).ConfigureAwait(false);
            return reply is ProbeReply { Facts: var facts }
                ? (
                    new ComparedSound(
                        null, path, Path.GetFileNameWithoutExtension(path), "", facts.ShortLabel,
                        facts.IsLossless ? Fidelity.Exact : Fidelity.Lossy,
                        (long)facts.Format.Duration(facts.FrameCount).TotalMilliseconds)
                    { Stamp = ComparedSound.StampOf(path) },
                    null)
                : (null, $"{path}: {reply.Failure}");
        }
        catch (WorkerLostException lost)
        {
            return (null, $"{path}: {lost.Message}");
        }
    }
}
