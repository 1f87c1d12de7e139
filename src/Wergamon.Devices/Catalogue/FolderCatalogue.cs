using System.Text;
using System.Text.Json;
using Wergamon.Core.Audio;
using Wergamon.Core.Discs;
using Wergamon.Core.Naming;

namespace Wergamon.Devices.Catalogue;

/// <summary>A catalogue in a local folder.</summary>
/// <param name="folder">Holds catalogue.json and the covers it names.</param>
public sealed class FolderCatalogue(string folder, TimeProvider time) : IDiscCatalogue
{
    public const string FileName = "catalogue.json";

    private static readonly TimeSpan SlowAnswer = TimeSpan.FromSeconds(8);
    private const long LargestCover = 16 << 20;
    private const int MaxFound = 12;
    private const int MaxBytes = 64 << 20;

    public CatalogueMood Mood { get; set; }

    public async Task<IReadOnlyList<CatalogueEntry>> FindAsync(TableOfContents contents, CancellationToken cancellation)
    {
        var all = await ReadAsync(cancellation).ConfigureAwait(false);
        var found = all.GetValueOrDefault(DiscId.Sha1(contents)) ?? [];
        int tracks = contents.AudioTracks.Count();
        return [
            .. found.Where(record => tracks == 0 || record.Tracks.Count == tracks)
                .OrderByDescending(record => record.Confirmed)
                .Select(record => new CatalogueEntry(record, CoverOf(record)))
        ];
    }

    public async Task<IReadOnlyList<CatalogueEntry>> FindAsync(string words, CancellationToken cancellation)
    {
        var wanted = FoldedText.Fold(words).Split(' ', StringSplitOptions.RemoveEmptyEntries);
        if (wanted.Length == 0)
            return [];
        var all = await ReadAsync(cancellation).ConfigureAwait(false);
        return
        [
            .. all.Values.SelectMany(records => records)
                .Where(record => wanted.All(FoldedText.Fold($"{record.Artist} {record.Title}").Contains))
                .OrderBy(record => record.CoverFile is null)
                    .ThenByDescending(record => record.Confirmed)
                    .Take(MaxFound)
                    .Select(record => new CatalogueEntry(record, CoverOf(record))),
        ];
    }

    private async Task<Dictionary<string, List<CatalogueRecord>>> ReadAsync(CancellationToken cancellation)
    {
        if (Mood == CatalogueMood.Slow)
            await Task.Delay(SlowAnswer, time, cancellation).ConfigureAwait(false);
        if (Mood == CatalogueMood.Down)
            throw new CatalogueException("The catalogue does not answer.");
        var path = Path.Combine(folder, FileName);
        if (!PlainFile.Exists(path))
            return [];
        try
        {
            // A wrong answer is JSON of another shape.
            var text = Mood == CatalogueMood.Wrong ? "<html>Not today</html>" : Encoding.UTF8.GetString(PlainFile.ReadAll(path, MaxBytes));
            return JsonSerializer.Deserialize(text, CatalogueJson.Default.DictionaryStringListCatalogueRecord) ?? [];
        }
        catch (JsonException failure)
        {
            throw new CatalogueException("The catalogue's answer makes no sense.", failure);
        }
        catch (IOException failure)
        {
            throw new CatalogueException("The catalogue does not answer.", failure);
        }
    }

    private byte[]? CoverOf(CatalogueRecord record)
    {
        if (record.CoverFile is not { } name)
            return null;
        var path = Path.Combine(folder, Path.GetFileName(name));
        return PlainFile.Length(path) is > 0 and <= LargestCover ? PlainFile.ReadAll(path, LargestCover) : null;
    }
}
