using System.Text.Json;
using System.Text.Json.Serialization;
using Wergamon.App.Runs;
using Wergamon.Core.Jobs;
using Wergamon.Core.Planning;

namespace Wergamon.App.Copies;

/// <summary>A copy to be made: the document of an item of a run.</summary>
public sealed record CopySpec
{
    /// <summary>The track that the copy will belong to; null for one that the copy itself makes.</summary>
    public long? TrackId { get; init; }

    /// <summary>Distinguishes the albums of a run whose levels are measured as one; null if that is not needed.</summary>
    public string? Album { get; init; }

    /// <summary>True for a part of a file, or for joined files: the copy is not a copy of its source's track.</summary>
    public bool IsNewTrack { get; init; }

    /// <summary>The copy that is read; null for sound from a disc.</summary>
    public long? SourceCopyId { get; init; }

    /// <summary>For sound from a disc: the number of the track there, 0 for hidden sound before track 1, -1 for the whole disc.</summary>
    public int? DiscTrack { get; init; }

    public required Target Target { get; init; }

    public required string OutputFolder { get; init; }

    /// <summary>Below the output folder.</summary>
    public required string RelativePath { get; init; }

    /// <summary>
    /// The first folder of the path where several targets share an output folder; empty without one, null where an earlier version did not
    /// say.
    /// </summary>
    public string? TargetFolder { get; init; }

    [JsonPropertyName("ifExists")]
    public ConflictRule OnConflict { get; init; }

    /// <summary>The labels of the steps of its route.</summary>
    public string Steps { get; init; } = "";

    public Fidelity Fidelity { get; init; }

    public int Generation { get; init; }

    public long BytesBefore { get; init; }

    /// <summary>Null if it is created when the item starts.</summary>
    public ConvertJob? Job { get; init; }

    /// <summary>The mirror that the copy is made for; null for one of a plan.</summary>
    public MirrorSlot? Mirror { get; init; }

    /// <summary>True when the library does not list the copy.</summary>
    [JsonIgnore]
    public bool IsUnlisted => Target.ExcludedFromLibrary;

    /// <summary>The extension of a file that is written beside the copy and shares its name; null for none.</summary>
    public string? CompanionExtension { get; init; }

    [JsonIgnore]
    public string WantedPath => Path.Combine(OutputFolder, RelativePath);

    /// <summary>Reads the document of an item of any kind that makes copies.</summary>
    public static CopySpec Of(RunItemRow item) =>
        JsonSerializer.Deserialize(item.Spec, CopiesJson.Default.CopySpec)
            ?? throw new InvalidDataException($"Run item {item.Id} says nothing of a copy.");
}

/// <summary>A file of a mirror.</summary>
/// <param name="Entry">What it was made of, for later comparison.</param>
public sealed record MirrorSlot(long MirrorId, MirrorEntry Entry);
