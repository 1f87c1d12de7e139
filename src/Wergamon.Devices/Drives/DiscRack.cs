using System.Text.Json;
using System.Text.Json.Serialization;
using Wergamon.Devices.Catalogue;

namespace Wergamon.Devices.Drives;

/// <summary>A disc that can be put into a drive.</summary>
/// <param name="Key">The name of its cue sheet without extension.</param>
/// <param name="Label">What is written on its spine.</param>
/// <param name="Note">What is special about it; empty for an ordinary one.</param>
public sealed record RackDisc(string Key, string Label, string Note);

/// <summary>The note beside a disc image: its label and its faults.</summary>
public sealed record RackNote(string Label, string Note, IReadOnlyList<DiscFault> Faults);

/// <summary>The shelf of simulated discs: a folder with an image, a cue sheet and a note for each.</summary>
public sealed class DiscRack(string folder)
{
    public IReadOnlyList<RackDisc> List()
    {
        if (!Directory.Exists(folder))
            return [];
        return [.. Directory.GetFiles(folder, "*.cue").Order(StringComparer.Ordinal).Select(path => Path.GetFileNameWithoutExtension(path)).Select(Describe)];
    }

    /// <summary>Takes a disc from the rack; null when there is none of that name.</summary>
    /// <exception cref="Core.Discs.UnreadableDiscException">Its image is damaged.</exception>
    public LoadedDisc? Take(string key)
    {
        if (List().All(disc => disc.Key != key))
            return null;
        var note = ReadNote(key);
        return ImageDisc.Open(Path.Combine(folder, key + ".cue"), key, note.Label) with { Faults = note.Faults };
    }

    private RackDisc Describe(string key)
    {
        var note = ReadNote(key);
        return new RackDisc(key, note.Label, note.Note);
    }

    private RackNote ReadNote(string key)
    {
        var path = Path.Combine(folder, key + ".json");
        var empty = new RackNote(key, "", []);
        return File.Exists(path) ? JsonSerializer.Deserialize(File.ReadAllText(path), RackJson.Default.RackNote) ?? empty : empty;
    }
}

/// <summary>Serialisation of the notes in the rack.</summary>
[JsonSourceGenerationOptions(PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase, UseStringEnumConverter = true, WriteIndented = true, IgnoreReadOnlyProperties = true)]
[JsonSerializable(typeof(RackNote))]
[JsonSerializable(typeof(Dictionary<string, List<Catalogue.CatalogueRecord>>))]
[JsonSerializable(typeof(Dictionary<string, List<Catalogue.LedgerTrack>>))]
public sealed partial class RackJson : JsonSerializerContext;
