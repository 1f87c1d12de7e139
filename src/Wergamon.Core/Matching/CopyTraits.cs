using Wergamon.Core.Audio;
using Wergamon.Core.Naming;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Matching;

/// <summary>What decides whether two files hold one track.</summary>
public sealed record CopyTraits
{
    /// <summary>Artist and title, folded; null where either is not known.</summary>
    public string? Names { get; init; }

    /// <summary>Album artist and album, folded; null where the file names none.</summary>
    public string? Album { get; init; }

    public int? Disc { get; init; }

    public int? Number { get; init; }

    public required TimeSpan Length { get; init; }

    public required PcmFormat Format { get; init; }

    public required bool IsLossless { get; init; }

    /// <summary>Hash of all samples and their format; null before the analysis.</summary>
    public string? Samples { get; init; }

    /// <summary>Digital silence, which equals any silence of its length.</summary>
    public required bool IsSilent { get; init; }

    /// <summary>Artist and title in the form in which they are compared; null where either is missing.</summary>
    public static string? NamesOf(TagSet tags)
    {
        var artist = tags.First(FieldNames.Artist) ?? tags.First(FieldNames.AlbumArtist);
        return artist is { Length: > 0 } && tags.First(FieldNames.Title) is { Length: > 0 } title
            ? $"{FoldedText.Fold(artist.Trim())}\n{FoldedText.Fold(title.Trim())}"
            : null;
    }

    /// <summary>Album artist and album in the form in which they are compared; null without an album.</summary>
    public static string? AlbumOf(TagSet tags) => tags.First(FieldNames.Album) is { Length: > 0 } album
        ? $"{FoldedText.Fold(AlbumArtistOf(tags).Trim())}\n{FoldedText.Fold(album.Trim())}"
        : null;

    private static string AlbumArtistOf(TagSet tags) => tags.First(FieldNames.AlbumArtist) ?? tags.First(FieldNames.Artist) ?? "";

    /// <summary>
    /// Whether nothing rules out that both hold one track. Tracks of different albums are never merged, nor tracks with different
    /// numbers, however similar they sound; two lossless files of one format are one track only if their samples are equal,
    /// so nothing is decided before both are known.
    /// </summary>
    public bool IsCompatibleWith(CopyTraits other) =>
        MaySharePlaceWith(other) && (!CanBeComparedWith(other) || (Samples is not null && Samples == other.Samples));

    private bool MaySharePlaceWith(CopyTraits other) =>
        Album is null || other.Album is null
            || (Album == other.Album && SameOrUnknown(Disc, other.Disc) && SameOrUnknown(Number, other.Number));

    private bool CanBeComparedWith(CopyTraits other) =>
        IsLossless && other.IsLossless
        && Format.Rate == other.Format.Rate && Format.Bits == other.Format.Bits && Format.Kind == other.Format.Kind
            && Format.Channels == other.Format.Channels;

    private static bool SameOrUnknown(int? one, int? other) => one is null || other is null || one == other;
}
