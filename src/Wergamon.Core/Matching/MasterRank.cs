using Wergamon.Core.Planning;

namespace Wergamon.Core.Matching;

/// <summary>
/// How close a copy of a track is to the source. The least rank of a track's copies is its master copy: the one that is converted,
/// played, delivered and asked for tags.
/// </summary>
public sealed record MasterRank
{
    /// <summary>The master copy first.</summary>
    public static IComparer<MasterRank> Order { get; } =
        Comparer<MasterRank>.Create((one, other) => one.Key.CompareTo(other.Key));

    /// <summary>A file that exists comes before one that is missing.</summary>
    public required bool IsMissing { get; init; }

    /// <summary>How many lossy encodings the sound has been through; fewer come first.</summary>
    public required int Generation { get; init; }

    /// <summary>
    /// True when it was made here from another copy that still exists. A WAV made from an MP3 holds no more than the MP3, whatever its
    /// format says.
    /// </summary>
    public required bool IsMadeFromAnother { get; init; }

    /// <summary>Lossless comes before lossy.</summary>
    public required bool IsLossless { get; init; }

    /// <summary>What the conversion that made it has kept; exact first.</summary>
    public required Fidelity Fidelity { get; init; }

    /// <summary>Bits that the sound really uses, or those of the format before the analysis; more come first.</summary>
    public required int Bits { get; init; }

    /// <summary>
    /// The lowest usual rate that holds all of the sound, or that of the format before the analysis, in hertz; higher ones come first.
    /// </summary>
    public required int Rate { get; init; }

    /// <summary>More channels come first.</summary>
    public required int Channels { get; init; }

    /// <summary>Tag values that the file itself holds; more come first.</summary>
    public required int TagCount { get; init; }

    /// <summary>The number of the copy: of equal ones the first to be added is the master.</summary>
    public required long CopyId { get; init; }

    private ((bool, int, bool, bool, Fidelity), (int, int, int, int, long)) Key =>
        ((IsMissing, Generation, IsMadeFromAnother, !IsLossless, Fidelity), (-Bits, -Rate, -Channels, -TagCount, CopyId));
}
