using Wergamon.App.Files;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Surround;
using Wergamon.Core.Naming;
using Wergamon.Core.Planning;

namespace Wergamon.App.Intake;

/// <summary>Starts rips, with the choice that the person has made for all discs.</summary>
public sealed class DiscRips(
    Settings settings, RipStore rips, RunStore runs, Signals signals, InsertedDiscs desk, AllowedPaths allowed, SurroundChoices surround)
{
    private const string ChoiceKey = "when a disc goes in";

    /// <summary>The person's last choice, and whether rips start automatically.</summary>
    public DiscChoice Choice => settings.Read(ChoiceKey, IntakeJson.Default.DiscChoice) ?? new DiscChoice(false, new RipSettings());

    /// <summary>What a rip can be made into.</summary>
    public IReadOnlyList<Target> Targets => rips.Targets();

    /// <summary>
    /// Saves a choice; returns the reason, for the person, when its folder or its names cannot be used. The rest is saved anyway.
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

        var check = allowed.CheckOutputFolder(typedFolder);
        Write(choice with { Settings = choice.Settings with { OutputFolder = check.Path ?? known } });
        return check.Refusal ?? problem;
    }

    /// <summary>Starts a rip of the disc in a drive; gives the reason, for the person, when it cannot start.</summary>
    public string? Start(string letter, IReadOnlyList<int> tracks)
    {
        if (desk.On(letter) is not { } onDesk)
            return "There is no disc in the drive.";
        var chosen = Choice.Settings;
        var known = TrackSpan.Of(onDesk.Contents, chosen.Pauses).Select(span => span.Number).ToHashSet();
        if (!tracks.Any(known.Contains))
            return "Pick at least one track.";
        if (!Targets.Any(target => chosen.Targets.Contains(target.Key)))
            return "Choose at least one target.";
        if (IsBusy(letter))
            return "The drive is already reading.";
        rips.Create(onDesk, tracks, chosen);
        signals.Send(new Signal(Signal.Disc));
        return null;
    }

    /// <summary>Starts making copies of titles of a surround disc; gives the reason, for the person, when it cannot start.</summary>
    public string? StartSurround(string letter, IReadOnlyList<int> titles)
    {
        if (desk.On(letter) is not { IsSurround: true } onDesk)
            return "There is no disc with surround titles in the drive.";
        var choice = surround.Of(onDesk.DiscId);
        var picked = onDesk.Disc.Titles.Where(title => titles.Contains(title.Number)).ToList();
        if (picked.Count == 0)
            return "Pick at least one title.";
        if (!choice.MakesStereo && !choice.MakesAllChannels)
            return "Choose stereo, all channels, or both.";
        if (picked.FirstOrDefault(title => !SurroundTitles.AreUsable(choice.RolesOf(title))) is { } unclear)
            return $"Title {unclear.Number} has two channels for the same loudspeaker. Give each its own.";
        if (IsBusy(letter))
            return "The drive is already reading.";
        rips.CreateSurround(onDesk, titles, choice, Choice.Settings);
        signals.Send(new Signal(Signal.Disc));
        return null;
    }

    /// <summary>Keeps a choice for a surround disc; gives the reason, for the person, when its folder cannot be used.</summary>
    public string? ChooseSurround(string letter, SurroundChoice choice, string? typedFolder)
    {
        if (desk.On(letter) is not { } onDesk)
            return "There is no disc in the drive.";
        var check = string.IsNullOrWhiteSpace(typedFolder) ? default : allowed.CheckOutputFolder(typedFolder);
        surround.Save(
            onDesk.DiscId, choice with { OutputFolder = check.Refusal is null ? check.Path : surround.Of(onDesk.DiscId).OutputFolder });
        return check.Refusal;
    }

    /// <summary>The newest rip of the disc in a drive; null before the first.</summary>
    public RunRow? RunOf(InsertedDisc onDesk) => rips.Latest(onDesk.Letter, onDesk.DiscId) is { } id ? runs.Get(id) : null;

    private bool IsBusy(string letter) => rips.IsBusy(letter);

    private void Write(DiscChoice choice) => settings.Write(ChoiceKey, choice, IntakeJson.Default.DiscChoice);
}
