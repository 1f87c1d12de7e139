using System.Globalization;
using Wergamon.App.Runs;
using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Reading;
using Wergamon.Core.Naming;
using Wergamon.Devices.Burners;

namespace Wergamon.App.Deliver.Discs;

/// <summary>Reads a disc back in its burner and compares every track with what was written.</summary>
public sealed class BurnCheckHandler(BurnerBay bay, BurnedTracks tracks, RunStore runs) : ItemHandler<BurnDiscSpec>(ItemKind)
{
    public static readonly ItemKind<BurnDiscSpec, BurnCheckResult> ItemKind = new(
        "burn-check", () => DiscRunsJson.Default.BurnDiscSpec, () => DiscRunsJson.Default.BurnCheckResult);

    private const int MaxPlaces = 5;

    protected override Task<ItemOutcome> ExecuteAsync(
        RunItemRow item, BurnDiscSpec spec, ItemContext context, CancellationToken cancellation) =>
        DedicatedThread.RunAsync(() => Check(item, spec, context, cancellation));

    protected override ItemDescription Describe(RunItemRow item, BurnDiscSpec spec) => new("Reading back", "Read back")
    {
        Detail = ItemKind.ResultOf(item) is { } found
            ? $"{Plural.Count(found.Tracks, "track")}, every sample equal" : "",
    };

    private ItemOutcome Check(RunItemRow item, BurnDiscSpec spec, ItemContext context, CancellationToken cancellation)
    {
        var burner = bay.Burner(spec.Settings.Burner) ?? throw new RunStoppedException($"Burner {spec.Settings.Burner} no longer exists.");
        var written = runs.Items(item.RunId)
            .Where(other => BurnDiscHandler.ItemKind.Is(other) && BurnDiscHandler.ItemKind.SpecOf(other).Copy == spec.Copy)
            .Select(BurnDiscHandler.ItemKind.ResultOf)
            .FirstOrDefault()
            ?? throw new InvalidDataException($"Run {item.RunId} has not written what is to be checked.");
        if (burner.Disc?.WrittenKey != written.Key)
            throw new RunStoppedException(
                $"The burned disc is no longer in {burner.Traits.Name}. Insert it again, then continue: it still has to be read back.");
        try
        {
            var wrong = Differences(
                burner, tracks.LayoutOf(item.RunId, spec).Contents(spec.Settings.CatalogueNumber), written.Sums, context, cancellation);
            if (wrong.Count > 0)
                return ItemOutcome.Failed(
                    "The disc reads back differently: "
                        + $"{string.Join("; ", wrong.Take(MaxPlaces))}{(wrong.Count > MaxPlaces ? "; and more" : "")}. Burn another "
                        + "disc.");
        }
        catch (UnreadableDiscException failure)
        {
            throw new RunStoppedException(failure.Message, failure);
        }

        bay.Eject(burner.Letter);
        return ItemKind.Done(new BurnCheckResult(written.Sums.Count));
    }

    private static List<string> Differences(
        IDiscBurner burner, TableOfContents planned, IReadOnlyList<uint> sums, ItemContext context, CancellationToken cancellation)
    {
        var drive = burner.Open();
        if (DiscId.Sha1(drive.Contents) != DiscId.Sha1(planned) || drive.Contents.LeadOut != planned.LeadOut)
            return ["its table of contents differs"];
        var spans = TrackSpan.Of(drive.Contents, Pauses.WithTrackBefore);
        var reader = new CarefulReader(drive, new ReadingSettings(), new Listener(planned.LeadOut, share => context.Report(share)));
        var wrong = new List<string>();
        for (int i = 0; i < spans.Count; i++)
        {
            var reading = reader.Read(spans[i], Stream.Null, cancellation);
            if (reading.Crc32 != sums[i])
                wrong.Add(
                    $"{(spans[i].Number == TrackSpan.HiddenNumber ? "the hidden track" : $"track {spans[i].Number}")}{PlacesIn(reading)}");
        }

        return wrong;
    }

    private static string PlacesIn(TrackReading reading) => reading.Doubtful.Count == 0
        ? ""
        : " at " + string.Join(", ", reading.Doubtful.Take(MaxPlaces).Select(place => MinutesAndSeconds(place.Start)));

    private static string MinutesAndSeconds(TimeSpan time) =>
        string.Create(CultureInfo.InvariantCulture, $"{(int)time.TotalMinutes}:{time.Seconds:00}");

    private sealed class Listener(int leadOut, Action<double> report) : IReadingListener
    {
        public void Reached(int sector, bool isSecond)
        {
            if (isSecond)
                report((double)sector / leadOut);
        }

        public void ReadAgain(int sector)
        {
        }
    }
}
