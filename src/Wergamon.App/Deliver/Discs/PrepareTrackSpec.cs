using Wergamon.App.Runs;
using Wergamon.App.Tracks;
using Wergamon.Core.Jobs;
using Wergamon.Core.Planning;

namespace Wergamon.App.Deliver.Discs;

/// <summary>A track to be made ready.</summary>
/// <param name="Index">Its place, from 0.</param>
/// <param name="Target">What it is brought to.</param>
public sealed record PrepareTrackSpec(int Index, long CopyId, Target Target, ConvertJob Job)
{
    /// <summary>What of a run's work it takes to make a track ready, beside what is done with it then.</summary>
    private const int ShareOfWork = 10;

    /// <summary>The item of a run that makes a track ready.</summary>
    public static NewItem ItemFor(int index, TrackRow track, string title, Route route, Target target)
    {
        var master = track.Master;
        var job = new ConvertJob(
            master.Path, master.Facts.Format, route.StepsBeforeEncoding(), target.Encoder, "", [], [])
        { Level = target.Level, Artwork = new ArtworkRule(ArtworkChoice.None) };
        return PrepareTrackHandler.ItemKind.New(
            Lane.Worker, title, (long)master.Facts.Duration.TotalMilliseconds / ShareOfWork,
            new PrepareTrackSpec(index, master.Id, target, job)) with
        { IsResult = false, CopyIds = [master.Id] };
    }
}

/// <param name="Frames">What there really is, samples of one channel.</param>
/// <param name="Steps">What was done to the sound, in words.</param>
public sealed record PreparedTrack(long Frames, string Steps);
