using Microsoft.Extensions.Logging;
using Wergamon.App.Files;
using Wergamon.App.Library.Scan;
using Wergamon.App.Storage;
using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Reading;
using Wergamon.Devices.Drives;

namespace Wergamon.App.Intake;

/// <summary>A cue sheet in a music folder that can be inserted into a drive as a disc.</summary>
public sealed record FoundImage(string Key, string Label);

/// <summary>The drives of this machine and what can be put into them. A disc stays in its drive across a restart.</summary>
public sealed class DriveBay : IDisposable
{
    /// <summary>The drive for the person's own images. It reads without faults, since there is no disc to be scratched.</summary>
    public const string ImageLetter = "Image";

    private const int MaxImages = 200;
    private const string ImageKeyPrefix = "image:";

    private readonly DiscRack _rack;
    private readonly Settings _settings;
    private readonly MusicFolders _folders;
    private readonly ILogger<DriveBay> _logger;
    private readonly List<SimulatedTray> _trays;

    public DriveBay(AppOptions options, Settings settings, MusicFolders folders, TimeProvider time, ILogger<DriveBay> logger)
    {
        _rack = new DiscRack(options.RackFolder, options.Folders.Burned);
        _settings = settings;
        _folders = folders;
        _logger = logger;
        var images = new DriveBehaviour(new DriveTraits("Image drive"), Speed: 48, JitterShare: 0, Seed: 1);
        _trays =
        [
            .. SimulatedTray.Usual.Select(
                (behaviour, i) => new SimulatedTray(((char)('A' + i)).ToString(), behaviour, new PacedTime(time, options.DriveSpeedup))),
            new SimulatedTray(ImageLetter, images, new PacedTime(time, options.DriveSpeedup)),
        ];
        foreach (var tray in _trays)
            PutBack(tray);
    }

    /// <summary>Raised when a disc was inserted by hand, or ejected.</summary>
    public event Action<IDriveTray>? Changed;

    public IReadOnlyList<IDriveTray> Trays => _trays;

    public IDriveTray? Tray(string? letter) => _trays.FirstOrDefault(tray => tray.Letter == letter);

    public IReadOnlyList<RackDisc> Rack() => _rack.List();

    /// <summary>Cue sheets in the music folders.</summary>
    public IReadOnlyList<FoundImage> Images()
    {
        return
        [
            .. _folders.List().Where(folder => PlainFolder.Exists(folder.Path))
                .SelectMany(
                    folder =>
                        PlainFolder.Files(folder.Path, "*.cue", isDeep: true)
                            .Take(MaxImages)
                            .Select(
                                path =>
                                    new FoundImage(
                                        $"{ImageKeyPrefix}{folder.Id}:{Path.GetRelativePath(folder.Path, path)}",
                                        Path.GetRelativePath(folder.Path, path))))
                .OrderBy(image => image.Label, StringComparer.Ordinal).Take(MaxImages),
        ];
    }

    /// <summary>
    /// Inserts a disc of the rack, or an image, into a drive; returns the reason, for the person, when that is not possible.
    /// </summary>
    public string? Insert(string letter, string key)
    {
        if (_trays.FirstOrDefault(tray => tray.Letter == letter) is not { } tray)
            return "There is no such drive.";
        try
        {
            if (Take(key) is not { } disc)
                return "That disc is no longer on the rack.";
            tray.Insert(disc);
        }
        catch (UnreadableDiscException failure)
        {
            return failure.Message;
        }

        _settings.Write(SettingOf(tray), key, IntakeJson.Default.String);
        _logger.LogInformation("Drive {Letter}: {Disc} went in", letter, key);
        Changed?.Invoke(tray);
        return null;
    }

    public void Eject(string letter)
    {
        if (_trays.FirstOrDefault(tray => tray.Letter == letter) is not { Disc: not null } tray)
            return;
        tray.Eject();
        _settings.Remove(SettingOf(tray));
        _logger.LogInformation("Drive {Letter}: ejected", letter);
        Changed?.Invoke(tray);
    }

    public void Dispose()
    {
        foreach (var tray in _trays)
            tray.Dispose();
    }

    private static string SettingOf(SimulatedTray tray) => $"drive {tray.Letter}";

    private void PutBack(SimulatedTray tray)
    {
        try
        {
            if (_settings.Read(SettingOf(tray), IntakeJson.Default.String) is { } key && Take(key) is { } disc)
                tray.Insert(disc);
        }
        catch (UnreadableDiscException failure)
        {
            _logger.LogWarning("Drive {Letter}: the disc that lay in it cannot be read any more: {Reason}", tray.Letter, failure.Message);
        }
    }

    private LoadedDisc? Take(string key)
    {
        if (!key.StartsWith(ImageKeyPrefix, StringComparison.Ordinal))
            return _rack.Take(key);
        return Images().FirstOrDefault(image => image.Key == key) is { } found && PathOf(key) is { } path
            ? ImageDisc.Open(path, key, found.Label)
            : null;
    }

    private string? PathOf(string key)
    {
        var parts = key[ImageKeyPrefix.Length..].Split(':', 2);
        var folder = _folders.List()
            .FirstOrDefault(folder => folder.Id.ToString(System.Globalization.CultureInfo.InvariantCulture) == parts[0]);
        return folder is null ? null : AllowedPaths.Resolve(Path.Combine(folder.Path, parts[1]));
    }
}
