using Wergamon.App.Files;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Surround;
using Wergamon.Core.Naming;

namespace Wergamon.App.Intake;

/// <summary>Starts rips: on request, or automatically when a disc is inserted and the person has chosen that.</summary>
public sealed class DiscRips : IDisposable
{
    private const string ChoiceKey = "when a disc goes in";

    private readonly Settings _settings;
    private readonly RipStore _rips;
    private readonly RunStore _runs;
    private readonly Signals _signals;
    private readonly InsertedDiscs _desk;
    private readonly AllowedPaths _allowed;
    private readonly SurroundChoices _surround;

    public DiscRips(
        Settings settings, RipStore rips, RunStore runs, Signals signals, InsertedDiscs desk, AllowedPaths allowed,
        SurroundChoices surround)
    {
        (_settings, _rips, _runs, _signals, _desk, _allowed, _surround) = (settings, rips, runs, signals, desk, allowed, surround);
        _desk.LookedUp += OnLookedUp;
    }

    /// <summary>The person's last choice, and whether rips start automatically.</summary>
    public DiscChoice Choice => _settings.Read(ChoiceKey, IntakeJson.Default.DiscChoice) ?? new DiscChoice(false, new RipSettings());

    /// <summary>
    /// Keeps a choice; gives the reason, for the person, when its folder or its names cannot be used. The rest is kept then too.
    /// </summary>
    public string? Choose(DiscChoice choice, string? typedFolder, string? typedNames)
    {
        var known = Choice.Settings.OutputFolder;
        var (names, problem) = TrackPath.ReadTyped(typedNames);
        choice = choice with { Settings = choice.Settings with { Names = problem is null ? names : Choice.Settings.Names } };
        if (string.IsNullOrWhiteSpace(typedFolder))
        {
            Write(choice with { Settings = choice.Settings with { OutputFolder = null } });
            return problem;
        }

        var check = _allowed.CheckOutputFolder(typedFolder);
        Write(choice with { Settings = choice.Settings with { OutputFolder = check.Path ?? known } });
        return check.Refusal ?? problem;
    }

    /// <summary>Starts a rip of the disc in a drive; gives the reason, for the person, when it cannot start.</summary>
    public string? Start(string letter, IReadOnlyList<int> tracks)
    {
        if (_desk.On(letter) is not { } onDesk)
            return "There is no disc in the drive.";
        var settings = Choice.Settings;
        var known = TrackSpan.Of(onDesk.Contents, settings.Pauses).Select(span => span.Number).ToHashSet();
        if (!tracks.Any(known.Contains))
            return "Pick at least one track.";
        if (!_rips.Targets().Any(target => settings.Targets.Contains(target.Key)))
            return "Choose at least one target.";
        if (IsBusy(letter))
            return "The drive is already reading.";
        _rips.Create(onDesk, tracks, settings);
        _signals.Send(new Signal(Signal.Disc));
        return null;
    }

    /// <summary>Starts making copies of titles of a surround disc; gives the reason, for the person, when it cannot start.</summary>
    public string? StartSurround(string letter, IReadOnlyList<int> titles)
    {
        if (_desk.On(letter) is not { IsSurround: true } onDesk)
            return "There is no disc with surround titles in the drive.";
        var choice = _surround.Of(onDesk.DiscId);
        var picked = onDesk.Disc.Titles.Where(title => titles.Contains(title.Number)).ToList();
        if (picked.Count == 0)
            return "Pick at least one title.";
        if (!choice.MakesStereo && !choice.MakesAllChannels)
            return "Choose stereo, all channels, or both.";
        if (picked.FirstOrDefault(title => !SurroundTitles.AreUsable(choice.RolesOf(title))) is { } unclear)
            return $"Title {unclear.Number} has two channels for the same loudspeaker. Give each its own.";
        if (IsBusy(letter))
            return "The drive is already reading.";
        _rips.CreateSurround(onDesk, titles, choice, Choice.Settings);
        _signals.Send(new Signal(Signal.Disc));
        return null;
    }

    /// <summary>Keeps a choice for a surround disc; gives the reason, for the person, when its folder cannot be used.</summary>
    public string? ChooseSurround(string letter, SurroundChoice choice, string? typedFolder)
    {
        if (_desk.On(letter) is not { } onDesk)
            return "There is no disc in the drive.";
        var check = string.IsNullOrWhiteSpace(typedFolder) ? default : _allowed.CheckOutputFolder(typedFolder);
        _surround.Save(
            onDesk.DiscId, choice with { OutputFolder = check.Refusal is null ? check.Path : _surround.Of(onDesk.DiscId).OutputFolder });
        return check.Refusal;
    }

    /// <summary>The rip that a drive works on or has worked on last with the disc that lies in it.</summary>
    public RunRow? RunOf(InsertedDisc onDesk) => _rips.Latest(onDesk.Letter, onDesk.DiscId) is { } id ? _runs.Get(id) : null;

    public void Dispose() => _desk.LookedUp -= OnLookedUp;

    private bool IsBusy(string letter) => _rips.IsBusy(letter);

    private void OnLookedUp(InsertedDisc onDesk)
    {
        if (Choice.ReadsByItself && !onDesk.IsSurround && RunOf(onDesk) is null)
            Start(onDesk.Letter, [.. TrackSpan.Of(onDesk.Contents, Pauses.WithTrackBefore).Select(span => span.Number)]);
    }

    private void Write(DiscChoice choice) => _settings.Write(ChoiceKey, choice, IntakeJson.Default.DiscChoice);
}
