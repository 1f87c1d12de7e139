using System.Globalization;
using System.Text;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Tags.Mapping;
using Wergamon.Testing;

namespace Wergamon.Core.Tests.Formats;

/// <summary>
/// The tables of docs/formats.md are made from the registry and the table of fields. With <c>WERGAMON_WRITE_DOCS=1</c> the page is
/// rewritten; otherwise it has to be true.
/// </summary>
public sealed class FormatsPageTests
{
    private const string Start = "<!-- made from the registry -->";
    private const string End = "<!-- end -->";

    [Fact]
    public void The_page_of_formats_says_what_the_registry_says()
    {
        var path = Path.Combine(Repository.Root, "docs", "formats.md");
        var page = File.ReadAllText(path);
        var made = Replace(Replace(page, "formats", Formats()), "fields", Fields());
        if (Environment.GetEnvironmentVariable("WERGAMON_WRITE_DOCS") == "1")
            File.WriteAllText(path, made);
        else
            Assert.Equal(made, page);
    }

    private static string Replace(string page, string name, string table)
    {
        var start = Start.Replace("registry", "registry: " + name, StringComparison.Ordinal);
        int from = page.IndexOf(start, StringComparison.Ordinal) + start.Length, to = page.IndexOf(End, from, StringComparison.Ordinal);
        return page[..from] + "\n" + table + page[to..];
    }

    private static string Formats()
    {
        var text = new StringBuilder(
            "| Format | Ends in | Quality | Bits | Sample rates | Channels | Tags |\n|---|---|---|---|---|---|---|\n");
        foreach (var format in FileFormats.Writable)
        {
            var limits = format.Limits;
            var scales = format.Scales.Select(
                scale =>
                    $"{(format.Scales.Count > 1 ? scale.Name + ", " : "")}{scale.Steps[0].Figure} to {scale.Steps[^1].Figure}, usually "
                        + $"{scale.Usual.Figure}");
            text.Append(
                CultureInfo.InvariantCulture,
                $"| {format.Name} | `{format.Extension}` | {(format.Scales.Count > 0 ? string.Join("; ", scales) : "lossless")} | "
                    + $"{(format.IsLossy ? "–" : Bits(limits))} | {Rates(limits.Rates)} | "
                    + $"{(limits.MaxChannels == int.MaxValue ? "any" : "up to " + limits.MaxChannels)} | {format.Dialect.Name} |\n");
        }

        return text.ToString();
    }

    private static string Bits(FormatLimits limits) =>
        (limits.Bits.Count == 0 ? "as the source" : string.Join(" or ", limits.Bits)) + (limits.HoldsFloat ? ", floats too" : "");

    private static string Rates(IReadOnlyList<int> rates) => rates.Count switch
    {
        0 => "as the source",
        1 => $"{rates[0] / 1000.0} kHz",
        _ => string.Create(CultureInfo.InvariantCulture, $"{rates.Count} from {rates[0] / 1000.0} to {rates[^1] / 1000.0} kHz"),
    };

    private static string Fields()
    {
        var text = new StringBuilder(
            "| Field | Vorbis comment | ID3v2.3 | ID3v2.4 | MP4 item list | ASF | APEv2 | INFO | AIFF "
                + "|\n|---|---|---|---|---|---|---|---|---|\n");
        foreach (var row in FieldMap.All)
        {
            string?[] keys = [
                row.Vorbis, row.Id3v23 ?? "TXXX:" + row.Field, row.Id3v24 ?? "TXXX:" + row.Field, row.Mp4 ?? "----:" + row.Vorbis,
                row.Asf ?? row.Vorbis, row.Ape ?? row.Vorbis, row.Info, row.Aiff
            ];
            text.Append(
                CultureInfo.InvariantCulture,
                $"| {row.Field} | {string.Join(" | ", keys.Select(key => key is null ? "–" : $"`{key}`"))} |\n");
        }

        return text.ToString();
    }
}
