using Wergamon.App.Intake;
using Wergamon.App.Runs;
using Wergamon.Core.Audio;
using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Reading;
using Wergamon.Core.Naming;
using Wergamon.Core.Planning;
using Wergamon.Devices.Catalogue;
using Wergamon.Devices.Drives;
using Wergamon.Web.Display;

namespace Wergamon.Web.Pages.Intake;

/// <summary>One row of the track table.</summary>
/// <param name="Rip">What has been read of it in the newest rip.</param>
/// <param name="CopyId">The best copy that has been made of it.</param>
public sealed record DiscLine(TrackSpan Span, DiscTitle Title, RipTrackRow? Rip, bool IsPicked, long? CopyId)
{
    public TrackReading? Reading => Rip?.Reading;
}

/// <summary>Everything shown of a drive and the disc in it.</summary>
public sealed record DiscView
{
    public required IReadOnlyList<IDriveTray> Trays { get; init; }

    public required IDriveTray Tray { get; init; }

    public InsertedDisc? Inserted { get; init; }

    public DiscRow? Disc { get; init; }

    public DiscAlbum Album { get; init; } = new();

    public IReadOnlyList<DiscPicture> Pictures { get; init; } = [];

    /// <summary>The newest rip since it was inserted; null without one.</summary>
    public DiscRipView? Rip { get; init; }

    public DiscStrip? Strip { get; init; }

    public IReadOnlyList<DiscLine> Lines { get; init; } = [];

    public required DiscChoice Choice { get; init; }

    public required IReadOnlyList<Target> Targets { get; init; }

    public required CatalogueMood Mood { get; init; }

    public required string OutputFolder { get; init; }

    public bool IsEditing { get; init; }

    /// <summary>The choices for a surround disc; null for others.</summary>
    public SurroundChoice? Surround { get; init; }

    public bool IsRunning => Rip is { Run.Run.State: RunState.Running };

    /// <summary>Why an action was not carried out, or what to check.</summary>
    public string? Refusal { get; init; }

    public string? FolderRefusal { get; init; }

    /// <summary>The names that were typed and rejected, to be corrected.</summary>
    public string? TypedNames { get; init; }

    public string Heading =>
        Album.Title.Length > 0 ? Album.Title : Inserted is { State: LookUpState.Asking } ? "Looking up the disc" : "Unnamed disc";

    /// <summary>How a track compares with the checksums of others; null when they cannot be compared.</summary>
    public string? OthersOn(DiscLine line) =>
        line.Reading is { } reading && Rip?.Settings?.Pauses == Pauses.WithTrackBefore
            ? ReadingReport.Others(reading, Inserted!.Others)
            : null;

    public static string Lengths(TableOfContents contents) => Labels.Time(new Msf(contents.AudioEnd).Duration);

    public static string InWords(IDriveTray tray) => tray.Disc is { } disc
        ? disc.Titles.Count > 0
            ? $"surround, {Plural.Count(disc.Titles.Count, "title")}"
            : $"{Plural.Count(disc.Image.Contents.AudioTracks.Count(), "track")}, {Lengths(disc.Image.Contents)}"
        : "empty";
}
