using Wergamon.App.Data;
using Wergamon.App.Files;
using Wergamon.App.Runs;
using Wergamon.Core.Discs;

namespace Wergamon.App.Intake;

/// <summary>Starts rips: by hand, or by itself when a disc goes in and the person has chosen that.</summary>
public sealed class DiscRips : IDisposable
{
    private const string ChoiceKey = "when a disc goes in";

    private readonly Settings _settings;
    private readonly RipStore _rips;
    private readonly RunStore _runs;
    private readonly RunSignals _signals;
    private readonly RipEngine _engine;
    private readonly DiscDesk _desk;
    private readonly AllowedPaths _allowed;

    public DiscRips(Settings settings, RipStore rips, RunStore runs, RunSignals signals, RipEngine engine, DiscDesk desk, AllowedPaths allowed)
    {
        (_settings, _rips, _runs, _signals, _engine, _desk, _allowed) = (settings, rips, runs, signals, engine, desk, allowed);
        _desk.LookedUp += OnLookedUp;
    }

    /// <summary>What the person chose last, and whether it is to happen by itself.</summary>
    public DiscChoice Choice => _settings.Read(ChoiceKey, IntakeJson.Default.DiscChoice) ?? new DiscChoice(false, new RipSettings());

    /// <summary>Keeps a choice; gives the reason, for the person, when its folder cannot be used. The rest is kept then too.</summary>
    public string? Choose(DiscChoice choice, string? typedFolder)
    {
        var known = Choice.Settings.OutputFolder;
        if (string.IsNullOrWhiteSpace(typedFolder))
        {
            Write(choice with { Settings = choice.Settings with { OutputFolder = null } });
            return null;
        }

        var check = _allowed.CheckOutputFolder(typedFolder);
        Write(choice with { Settings = choice.Settings with { OutputFolder = check.Path ?? known } });
        return check.Refusal;
    }

    /// <summary>Starts a rip of the disc in a drive; gives the reason, for the person, when it cannot start.</summary>
    public string? Start(string letter, IReadOnlyList<int> tracks)
    {
        if (_desk.On(letter) is not { } onDesk)
            return "There is no disc in the drive.";
        var settings = Choice.Settings;
        var known = TrackSpan.Of(onDesk.Contents, settings.Pauses).Select(span => span.Number).ToHashSet();
        if (!tracks.Any(known.Contains))
            return "No track was picked. Tick at least one.";
        if (!_rips.Targets().Any(target => settings.Targets.Contains(target.Key)))
            return "Nothing is to be made. Choose at least one target.";
        if (IsBusy(letter))
            return "The drive is reading already.";
        _rips.Create(onDesk, tracks, settings);
        _engine.Wake();
        _signals.Send(new RunSignal("disc"));
        _signals.Send(new RunSignal("runs"));
        return null;
    }

    /// <summary>The rip that a drive works on or has worked on last with the disc that lies in it.</summary>
    public RunRow? RunOf(DiscOnDesk onDesk) => _rips.Latest(onDesk.Letter, onDesk.DiscId) is { } id ? _runs.Get(id) : null;

    public void Dispose() => _desk.LookedUp -= OnLookedUp;

    private bool IsBusy(string letter) => _rips.NextFor(letter) is not null;

    private void OnLookedUp(DiscOnDesk onDesk)
    {
        if (Choice.ReadsByItself && RunOf(onDesk) is null)
            Start(onDesk.Letter, [.. TrackSpan.Of(onDesk.Contents, Pauses.WithTrackBefore).Select(span => span.Number)]);
    }

    private void Write(DiscChoice choice) => _settings.Write(ChoiceKey, choice, IntakeJson.Default.DiscChoice);
}
