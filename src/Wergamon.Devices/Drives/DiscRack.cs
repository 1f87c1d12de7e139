namespace Wergamon.Devices.Drives;

/// <summary>A disc that can be put into a drive.</summary>
/// <param name="Key">The name of its cue sheet without extension.</param>
/// <param name="Label">What is written on its spine.</param>
/// <param name="Note">What is special about it; empty for an ordinary one.</param>
public sealed record RackDisc(string Key, string Label, string Note)
{
    /// <summary>The kind of blank that a burned disc was; null for a pressed one.</summary>
    public string? BlankKey { get; init; }
}

/// <summary>The shelf of simulated discs: folders with an image, a cue sheet and a note for each.</summary>
public sealed class DiscRack(params IReadOnlyList<string> folders)
{
    public IReadOnlyList<RackDisc> List() =>
    [
        .. folders.Where(PlainFolder.Exists).SelectMany(folder => PlainFolder.Files(folder, "*.cue").Order(StringComparer.Ordinal)
            .Select(path => Describe(folder, Path.GetFileNameWithoutExtension(path)))),
    ];

    /// <summary>Takes a disc from the rack; null when there is none of that name.</summary>
    /// <param name="isInBurner">True to read it in the burner that wrote it, which takes a disc that was left open.</param>
    /// <exception cref="Core.Discs.UnreadableDiscException">Its image is damaged, or it was left open.</exception>
    public LoadedDisc? Take(string key, bool isInBurner = false)
    {
        var folder = folders.FirstOrDefault(folder => Path.GetFileName(key) == key && PlainFile.Exists(SheetOf(folder, key)));
        if (folder is null)
            return null;
        var note = RackNote.Read(folder, key);
        if (note.IsOpen && !isInBurner)
            throw new Core.Discs.UnreadableDiscException(
                "This disc was left open when it was burned. Close it in a burner; until then drives do not read it.");
        return ImageDisc.Open(SheetOf(folder, key), key, note.Label) with { Faults = note.Faults };
    }

    private static string SheetOf(string folder, string key) => Path.Combine(folder, key + ".cue");

    private static RackDisc Describe(string folder, string key)
    {
        var note = RackNote.Read(folder, key);
        return new RackDisc(key, note.Label, note.IsOpen ? "Left open" : note.Note) { BlankKey = note.BlankKey };
    }
}
