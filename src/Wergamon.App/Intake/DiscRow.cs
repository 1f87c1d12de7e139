using System.Text.Json;
using Wergamon.Core.Discs;

namespace Wergamon.App.Intake;

public sealed record DiscRow
{
    public long Id { get; init; }

    public string Sha1Id { get; init; } = "";

    public string ChecksumId { get; init; } = "";

    public string Contents { get; init; } = "";

    public string Album { get; init; } = "";

    public string NamedBy { get; init; } = "";

    public long SeenAt { get; init; }

    public TableOfContents ReadContents() =>
        JsonSerializer.Deserialize(Contents, IntakeJson.Default.TableOfContents)
            ?? throw new InvalidDataException($"The table of contents of disc {Id} is empty.");

    public DiscAlbum ReadAlbum() => JsonSerializer.Deserialize(Album, IntakeJson.Default.DiscAlbum) ?? new DiscAlbum();
}
