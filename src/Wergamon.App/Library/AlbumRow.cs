using System.Data;
using System.Text.Json;
using Dapper;
using Wergamon.App.Storage;
using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;
using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Reading;
using Wergamon.Core.Jobs;
using Wergamon.Core.Planning;
using Wergamon.Core.Tags;

namespace Wergamon.App.Library;

public sealed record AlbumRow
{
    public long Id { get; init; }

    public string Title { get; init; } = "";

    public string Artist { get; init; } = "";

    public string? Year { get; init; }

    public string? Genre { get; init; }

    public int Tracks { get; init; }

    public string? CoverHash { get; init; }

    public long AddedAt { get; init; }
}
