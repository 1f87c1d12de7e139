using System.Globalization;
using System.Text;
using Wergamon.Core.Tags.Mapping;

namespace Wergamon.Core.Tags.Id3v2;

/// <summary>Turns the frames of one tag into fields, pictures and kept bytes.</summary>
internal sealed class Id3v2FrameParser(TagSet tags)
{
    public const string Dialect = FieldMap.Id3v2Dialect;

    private string? _dayAndMonth;

    /// <summary>
    /// Call after the last frame. TDAT of version 2.3 is DDMM; its year, in TYER, may come before or
    /// after it.
    /// </summary>
    public void Complete()
    {
        if (_dayAndMonth is { Length: 4 } date && date.All(char.IsAsciiDigit) && tags[FieldNames.Year] is [{ Length: 4 } year])
            tags.Set(FieldNames.Year, $"{year}-{date[2..]}-{date[..2]}");
        MappedFrames.Read(tags);
    }

    /// <param name="frame">What is in the frame; a picture keeps it.</param>
    public void Add(string id, ReadOnlyMemory<byte> frame, int version)
    {
        if (frame.IsEmpty)
            return;
        var content = frame.Span;
        switch (id)
        {
            case "TRCK":
                AddNumber(content, FieldNames.Track);
                break;
            case "TPOS":
                AddNumber(content, FieldNames.Disc);
                break;
            case "TDRC" or "TYER":
                AddDate(content, FieldNames.Year);
                break;
            case "TDOR" or "TORY":
                AddDate(content, FieldNames.OriginalYear);
                break;
            case "TDAT":
                _dayAndMonth = Values(content).FirstOrDefault();
                break;
            case "TXXX":
                AddNamed(content);
                break;
            case "COMM":
                AddWithLanguage(id, content, FieldNames.Comment);
                break;
            case "USLT":
                AddWithLanguage(id, content, FieldNames.Lyrics);
                break;
            case "WXXX":
                AddLink(content);
                break;
            case "APIC":
                AddPicture(frame, version);
                break;
            case var _ when OpaqueFields.FieldOfFrame(id) is not null:
                tags.Opaque.Add(new OpaqueField(Dialect, id, content.ToArray()));
                break;
            case var _ when Id3v2Frames.FieldOf(id) is { } field:
                AddText(content, field);
                break;
            default:
                tags.Opaque.Add(new OpaqueField(Dialect, id, content.ToArray()));
                break;
        }
    }

    private static List<string> Values(ReadOnlySpan<byte> content) => Id3v2Text.TakeAll(content[1..], (Id3v2Encoding)content[0]);

    private void AddText(ReadOnlySpan<byte> content, string field)
    {
        foreach (var value in Values(content))
        {
            foreach (var plain in field == FieldNames.Genre ? Id3v1Genres.Resolve(value) : [value])
                tags.Add(field, plain);
        }
    }

    private void AddNumber(ReadOnlySpan<byte> content, string field)
    {
        foreach (var value in Values(content))
            tags.AddNumbered(field, value);
    }

    /// <summary>A full date, from a TXXX or TDAT frame, is not overwritten by the bare year.</summary>
    private void AddDate(ReadOnlySpan<byte> content, string field)
    {
        if (tags[field].Count > 0)
            return;
        foreach (var value in Values(content))
            tags.Add(field, value);
    }

    private void AddNamed(ReadOnlySpan<byte> content)
    {
        var values = Values(content);
        var name = values.Count > 0 ? values[0] : "";
        if (name is Id3v2Writer.ExactYearName or Id3v2Writer.ExactOriginalYearName)
        {
            tags.Set(name == Id3v2Writer.ExactYearName ? FieldNames.Year : FieldNames.OriginalYear, values.Skip(1));
            return;
        }

        foreach (var value in values.Skip(1))
            tags.Add(name, value);
    }

    /// <summary>
    /// A comment or lyrics without a description is the field itself; with one it is a field of its own,
    /// "comment:description". One in a language other than English is kept whole, as bytes.
    /// </summary>
    private void AddWithLanguage(string id, ReadOnlySpan<byte> content, string field)
    {
        if (content.Length < 5)
            return;
        var language = Encoding.Latin1.GetString(content[1..4]);
        var values = Id3v2Text.TakeAll(content[4..], (Id3v2Encoding)content[0]);
        if (values.Count == 0)
            return;
        if (language is not ("eng" or "XXX" or "\0\0\0" or "   ") && (values[0].Length > 0 || tags[field].Count > 0))
        {
            tags.Opaque.Add(new OpaqueField(Dialect, id, content.ToArray()));
            return;
        }

        foreach (var value in values.Skip(1))
            tags.Add(values[0].Length == 0 ? field : $"{field}:{values[0]}", value);
    }

    private void AddLink(ReadOnlySpan<byte> content)
    {
        var rest = content[1..];
        var description = Id3v2Text.TakeString(ref rest, (Id3v2Encoding)content[0]);
        tags.Add(
            description.Length == 0 ? FieldNames.Website : $"{FieldNames.Website}:{description}",
            Id3v2Text.TakeString(ref rest, Id3v2Encoding.Latin1));
    }

    private void AddPicture(ReadOnlyMemory<byte> frame, int version)
    {
        var content = frame.Span;
        var rest = content[1..];
        string mimeType;
        if (version == 2)
        {
            if (rest.Length < 3)
                return;
            mimeType = "image/"
                + Encoding.Latin1.GetString(rest[..3])
                    .ToLower(CultureInfo.InvariantCulture)
                    .Replace("jpg", "jpeg", StringComparison.Ordinal);
            rest = rest[3..];
        }
        else
        {
            mimeType = Id3v2Text.TakeString(ref rest, Id3v2Encoding.Latin1);
        }

        if (rest.IsEmpty)
            return;
        var kind = rest[0] <= (byte)PictureKind.PublisherLogo ? (PictureKind)rest[0] : PictureKind.Other;
        rest = rest[1..];
        var description = Id3v2Text.TakeString(ref rest, (Id3v2Encoding)content[0]);
        tags.Pictures.Add(new Picture(kind, mimeType, description, frame[(frame.Length - rest.Length)..]));
    }
}
