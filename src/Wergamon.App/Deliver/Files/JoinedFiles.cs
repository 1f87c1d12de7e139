using Wergamon.App.Copies;
using Wergamon.App.Deliver.Discs;
using Wergamon.App.Files;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;
using Wergamon.Core.Audio;
using Wergamon.Core.Audio.Steps;
using Wergamon.Core.Discs;
using Wergamon.Core.Formats.Wav;
using Wergamon.Core.Naming;
using Wergamon.Core.Planning;

namespace Wergamon.App.Deliver.Files;

/// <summary>A track in its place in a long file.</summary>
/// <param name="Track">Null when it has left the library.</param>
/// <param name="Route">What happens to its sound before it is joined; null where there is no file.</param>
/// <param name="Start">Where it begins; null where there is no file.</param>
public sealed record JoinedLine(DeliveryItemRow Item, TrackRow? Track, Route? Route, TimeSpan? Start)
{
    public string Title => Track?.Title ?? Item.Title;

    public string Artist => Track?.Artist ?? Item.Artist;
}

/// <summary>Tracks joined to one long file of any format, with a cue sheet and chapters.</summary>
public sealed class JoinedFiles(
    DeliveryStore store, DeliveryRuns starts, LibraryQueries library, TargetChoices targets, RunStore runs, AllowedPaths allowed,
    AppOptions options, Settings settings)
{
    public static readonly RunKind RunKind = new("joined-file", Station.Deliver, "Joining", "proved")
    {
        SaysSummary = run => $"One file for {run.Purpose}"
    };

    private const string ChoiceKey = "joined file";

    private const int DiscBits = 16, MoreBits = 24;

    /// <summary>Plans tracks, with the settings of the last plan.</summary>
    /// <param name="title">Null to go by the album.</param>
    public long Create(string? title, IReadOnlyList<long> trackIds)
    {
        var artists = library.TracksById(trackIds).Select(track => track.Artist).Distinct(StringComparer.OrdinalIgnoreCase).ToList();
        var last = settings.Read(ChoiceKey, FilesJson.Default.JoinedSettings) ?? new JoinedSettings();
        return store.Create(
            DeliveryKind.Joined, store.TitleFor(title, trackIds),
            (last with { Artist = artists.Count == 1 ? artists[0] : DeliveryStore.ManyArtists }).ToJson(), trackIds);
    }

    public JoinedView? View(long id)
    {
        if (store.Get(id) is not { Kind: DeliveryKind.Joined } row)
            return null;
        var chosen = JoinedSettings.Of(row);
        var target = targets.Get(chosen.TargetKey) with
        {
            Place = OutputLocation.Folder,
            OnConflict = ConflictRule.KeepBoth,
            Sources = SourceDisposition.Stay,
            ExcludedFromLibrary = !chosen.IsInLibrary
        };
        var items = store.Items(id);
        var tracks = library.TracksById([.. items.Select(item => item.TrackId).OfType<long>().Distinct()])
            .Where(track => !track.Master.IsMissing)
            .ToDictionary(track => track.Id);
        var there = items.Where(item => item.TrackId is { } track && tracks.ContainsKey(track))
            .Select(item => tracks[item.TrackId!.Value])
            .ToList();
        var common = CommonOf(there, target);
        var routes = there.Select(track => RoutePlanner.Plan(track.Master.Facts, track.Master.Fidelity, common)).ToList();
        var format = routes.Count > 0 ? routes[0].Output : default;
        var layout = JoinLayout.Of(
            [.. routes.Select(route => route.OutputFrames)], routes.Count > 0 ? chosen.RulesAt(format.Rate) : default);
        int place = 0;
        var lines = items.Select(item =>
        {
            if (item.TrackId is not { } known || !tracks.TryGetValue(known, out var track))
                return new JoinedLine(item, null, null, null);
            var line = new JoinedLine(item, track, routes[place], format.Duration(layout.Starts[place]));
            place++;
            return line;
        }).ToList();
        return new JoinedView(
            row, chosen, target, lines, common,
            routes.Count > 0 ? RoutePlanner.Plan(FactsOf(format, layout.Frames), Fidelity.Exact, target) : null,
            routes.Count > 0 ? format.Duration(layout.Frames) : default)
        {
            Run = store.LatestRun(id) is { } run ? runs.Get(run) : null,
        };
    }

    /// <summary>Changes how a file is made; the next plan begins with the same.</summary>
    public void SetSettings(long id, JoinedSettings changed)
    {
        store.SetSettings(id, changed.ToJson());
        settings.Write(ChoiceKey, changed, FilesJson.Default.JoinedSettings);
    }

    /// <summary>Starts to make the file; gives the run, or the reason, for the person, why that is not possible.</summary>
    public (long? RunId, string? Problem) Start(long id)
    {
        if (View(id) is not { } view)
            return (null, "This file is no longer planned.");
        if (view.Problem is { } problem)
            return (null, problem);
        var check = allowed.CheckOutputFolder(view.Settings.Folder ?? options.Folders.Delivered);
        if (check.Path is not { } folder)
            return (null, check.Refusal);
        return starts.Start(id, new NewRun(RunKind, view.Row.Title, view.Target.Name, folder), (connection, run) =>
        {
            List<long> items = [
                .. view.Lines.Select(
                    (line, index) =>
                        RunStore.InsertItem(
                            connection, run, index, PrepareTrackSpec.ItemFor(index, line.Track!, line.Title, line.Route!, view.Common)))
            ];
            var spec = new CopySpec
            {
                IsNewTrack = true,
                Target = view.Target,
                OutputFolder = folder,
                RelativePath = SafeFileName.From(view.Row.Title, view.Target.Format.Extension),
                OnConflict = ConflictRule.KeepBoth,
                CompanionExtension = view.Lines.Count <= AudioDisc.MaxTracks ? JoinFileHandler.SheetExtension : null,
                Steps = view.Whole!.InWords,
                Fidelity = view.Whole.ResultFidelity,
                Generation = view.Whole.AddedGenerations,
            };
            var joined = new JoinFileSpec(
                view.Row.Title, [.. view.Lines.Select(line => new ListedTrack(line.Title, line.Artist, 0))], view.Settings,
                view.Lines[0].Route!.Output, spec);
            long file = RunStore.InsertItem(
                connection, run, items.Count,
                JoinFileHandler.ItemKind.New(Lane.Worker, view.Row.Title, (long)view.Duration.TotalMilliseconds, joined));
            foreach (long item in items)
                RunStore.InsertWait(connection, file, item, WaitReason.Success);
            return [.. items, file];
        });
    }

    internal static Core.Formats.AudioFacts FactsOf(PcmFormat format, long frames) =>
        new(WavFormat.Instance, "joined", format, frames, IsLossless: true, 0);

    /// <summary>
    /// One rate and one number of channels for all: the highest rate that any of them would have in the target, and no more bits than they
    /// have. Surround sound is downmixed, and mono stays mono only where all are.
    /// </summary>
    private static Target CommonOf(IReadOnlyList<TrackRow> tracks, Target target)
    {
        var alone = tracks.Select(track => RoutePlanner.Plan(track.Master.Facts, track.Master.Fidelity, target)).ToList();
        int rate = alone.Select(route => route.Output.Rate.Hertz).DefaultIfEmpty(SampleRate.AudioDisc.Hertz).Max();
        bool isPlain = tracks.All(
            track => track.Master.Facts is { IsLossless: true, Format: { IsFloat: false, Bits: <= DiscBits } format }
                && format.Rate.Hertz == rate && format.Channels <= 2);
        return new Target("joined", "Joined", new WavSettings())
        {
            Rate = new SampleRate(rate),
            Bits = isPlain ? DiscBits : MoreBits,
            Channels = tracks.All(track => track.Master.Sound.Channels == 1) ? ChannelChoice.AsSource : ChannelChoice.Stereo,
            Level = new LevelRule(LevelKind.AvoidClipping),
            EncodesAgain = true,
        };
    }
}
