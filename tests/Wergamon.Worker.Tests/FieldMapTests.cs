using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Tags;
using Wergamon.Core.Tags.Mapping;
using Wergamon.Testing;
using Wergamon.Testing.Outside;

namespace Wergamon.Worker.Tests;

/// <summary>
/// Every row of the table of fields against python3-mutagen 1.46: what we write under a key is found there, and read back from it.
/// </summary>
public sealed class FieldMapTests(WorkerFixture worker) : IClassFixture<WorkerFixture>
{
    private const string Lines = "[00:00.50]Lamps out\n[01:02.345]and up the adit";

    [Theory]
    [InlineData("flac", "flac", 3)]
    [InlineData("vorbis", "ogg", 3)]
    [InlineData("mp3", "mp3", 3)]
    [InlineData("mp3", "mp3", 4)]
    [InlineData("aac", "m4a", 3)]
    [InlineData("wma", "wma", 3)]
    [InlineData("wavpack", "wv", 3)]
    public async Task Each_field_is_under_its_key(string kind, string extension, int version)
    {
        var bytes = await new TaggedFiles(worker).MakeAsync(kind);
        using var source = new MemoryStream(bytes);
        var format = (TaggedFormat)FileFormats.Of(source)!;
        var tags = new TagSet();
        foreach (var row in FieldMap.All)
            tags.Set(row.Field, ValuesOf(row.Field));
        var path = worker.Folder[$"keys-{version}.{extension}"];
        using (var target = File.Create(path))
            format.EditTags(source, tags, new TagWriteOptions(version)).WriteTo(source, target);
        var found = Mutagen.ReadKeys(path);
        foreach (var row in FieldMap.All)
        {
            var key = KeyOf(row, kind, version);
            Assert.True(found.ContainsKey(key), $"{row.Field} is not under {key}");
            var text = string.Join('|', found[key]!.AsArray().Select(value => value!.GetValue<string>()));
            Assert.Contains(Expected(row.Field, key, kind), text, StringComparison.OrdinalIgnoreCase);
        }

        using var written = File.OpenRead(path);
        Assert.Equal(RandomTags.Lines(tags), RandomTags.Lines(FileReading.ReadTags(written).Tags));
    }

    private static string[] ValuesOf(string field) => field switch
    {
        FieldNames.Track => ["3"],
        FieldNames.TrackTotal => ["9"],
        FieldNames.Disc => ["1"],
        FieldNames.DiscTotal => ["2"],
        FieldNames.Year => ["2021"],
        FieldNames.OriginalYear => ["1999"],
        FieldNames.Tempo => ["76"],
        FieldNames.Compilation => ["1"],
        FieldNames.Rating => ["4"],
        FieldNames.TimedLyrics => [Lines],
        FieldNames.Chapters => ["00:00:00.500 First Gate", "00:01:02.345 фонарь"],
        _ => [$"{field} of the lamp"],
    };

    private static string KeyOf(FieldKeys row, string kind, int version) => kind switch
    {
        "mp3" => (version == 3 ? row.Id3v23 : row.Id3v24) ?? "TXXX:" + row.Field,
        "aac" => row.Mp4 is not { } item ? "----:" + row.Vorbis : item[0] == '©' ? item : item.ToUpperInvariant(),
        "wma" => (row.Asf ?? row.Vorbis).ToUpperInvariant(),
        "wavpack" => (row.Ape ?? row.Vorbis).ToUpperInvariant(),
        _ => row.Vorbis,
    };

    /// <summary>Numbers as each dialect counts them; everything else as it is.</summary>
    private static string Expected(string field, string key, string kind) => (field, key) switch
    {
        (FieldNames.Rating, "POPM") => "196",
        (FieldNames.Rating, "RATE") => "80",
        (FieldNames.Rating, "WM/SHAREDUSERRATING") => "75",
        (FieldNames.TimedLyrics, "SYLT") => "500 Lamps out|62345 and up the adit",
        (FieldNames.Chapters, "CHAP") => "500 First Gate|62345 фонарь",
        (FieldNames.Chapters, "CHPL") => "500 First Gate|62345 фонарь",
        (FieldNames.Chapters, "CHAPTER001") => "00:00:00.500",
        (FieldNames.Compilation, "CPIL") => "True",
        _ => ValuesOf(field)[0],
    };
}
