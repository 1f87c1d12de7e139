using Wergamon.Core.Bytes;

namespace Wergamon.Core.Tags;

/// <summary>What a picture shows: the numbers are those of ID3v2 (APIC) and FLAC (RFC 9639, table 13).</summary>
public enum PictureKind
{
    Other = 0,
    FileIcon = 1,
    OtherIcon = 2,
    Front = 3,
    Back = 4,
    Booklet = 5,
    Disc = 6,
    LeadArtist = 7,
    Artist = 8,
    Conductor = 9,
    Band = 10,
    Composer = 11,
    Lyricist = 12,
    Location = 13,
    Recording = 14,
    Performance = 15,
    Video = 16,
    Fish = 17,
    Illustration = 18,
    BandLogo = 19,
    PublisherLogo = 20,
}

/// <summary>A picture with its bytes as they are in the file.</summary>
/// <param name="MimeType">"image/jpeg", "image/png" and so on.</param>
public sealed record Picture(PictureKind Kind, string MimeType, string Description, ReadOnlyMemory<byte> Data)
{
    public string MimeType { get; init; } = WellFormedText.From(MimeType);

    public string Description { get; init; } = WellFormedText.From(Description);

    public bool Equals(Picture? other) =>
        other is not null && Kind == other.Kind && MimeType == other.MimeType && Description == other.Description
            && Data.Span.SequenceEqual(other.Data.Span);

    public override int GetHashCode() => HashCode.Combine(Kind, MimeType, Description, Data.Length);
}
