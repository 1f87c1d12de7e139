using System.Buffers;
using System.Buffers.Binary;
using System.Text;
using System.Text.RegularExpressions;

namespace Wergamon.Core.Tags.Id3v2;

/// <summary>Lays out single frames.</summary>
internal sealed partial class Id3v2FrameWriter(MemoryStream stream, Id3v2WriteOptions options)
{
    private static ReadOnlySpan<byte> Language => "eng"u8;

    private static readonly SearchValues<char> PlainLatin1 = SearchValues.Create(
        [
            .. Enumerable.Range(0, 0x100)
                .Select(code => (char)code)
                .Where(c => c is >= ' ' and <= '~' or '\n' or '\r' or '\t' or >= '\u00A0')
        ]);

    private readonly ArrayBufferWriter<byte> _content = new(initialCapacity: 256);

    public void Text(string id, IEnumerable<string> values)
    {
        var all = values.ToList();
        var encoding = EncodingFor(all);
        Begin(encoding);
        for (int i = 0; i < all.Count; i++)
            Id3v2Text.Write(_content, all[i], encoding, ended: i + 1 < all.Count);
        Frame(id, _content.WrittenSpan);
    }

    public void Number(string id, IReadOnlyList<string> values, string? total) =>
        Text(id, total is null ? values : [$"{values[0]}/{total}", .. values.Skip(1)]);

    /// <summary>A total goes with its number; it needs a frame of its own only without one, or with several.</summary>
    public void TotalAlone(string id, IReadOnlyList<string> values, bool hasNumber, string name)
    {
        if (!hasNumber)
            Text(id, [$"/{values[0]}"]);
        Named(name, [.. values.Skip(1)]);
    }

    public void Date(string id, string oldId, IReadOnlyList<string> values, string exactName)
    {
        if (options.Version == 4)
        {
            Text(id, values);
            return;
        }

        var plain = PlainDate().Match(values[0]);
        bool hasDay = plain.Groups["day"].Success;
        bool exact = plain.Success && values.Count == 1 && (!hasDay || oldId == "TYER");
        if (!exact)
            Named(exactName, values);
        if (values[0].Length >= 4 && values[0][..4].All(char.IsAsciiDigit))
            Text(oldId, [values[0][..4]]);
        if (exact && hasDay)
            Text("TDAT", [plain.Groups["day"].Value + plain.Groups["month"].Value]);
    }

    public void Named(string name, IReadOnlyList<string> values)
    {
        if (values.Count > 0)
            Text("TXXX", [name, .. values]);
    }

    public void WithLanguage(string id, string description, IEnumerable<string> values)
    {
        string[] all = [description, .. values];
        var encoding = EncodingFor(all);
        Begin(encoding);
        _content.Write(Language);
        for (int i = 0; i < all.Length; i++)
            Id3v2Text.Write(_content, all[i], encoding, ended: i + 1 < all.Length);
        Frame(id, _content.WrittenSpan);
    }

    /// <summary>A link is Latin-1; one that does not fit, and any after the first, go into a TXXX frame.</summary>
    public void Links(IReadOnlyList<string> values)
    {
        bool firstFits = FitsLatin1(values[0]);
        if (firstFits)
            Frame("WXXX", [(byte)Id3v2Encoding.Latin1, 0, .. Encoding.Latin1.GetBytes(values[0])]);
        Named(FieldNames.Website, firstFits ? [.. values.Skip(1)] : values);
    }

    public void Picture(Picture picture)
    {
        var encoding = EncodingFor([picture.Description]);
        Begin(encoding);
        Id3v2Text.Write(_content, picture.MimeType, Id3v2Encoding.Latin1, ended: true);
        _content.Write<byte>([(byte)picture.Kind]);
        Id3v2Text.Write(_content, picture.Description, encoding, ended: true);
        _content.Write(picture.Data.Span);
        Frame("APIC", _content.WrittenSpan);
    }

    public void Frame(string id, ReadOnlySpan<byte> content)
    {
        bool unsynchronised = options is { Unsynchronise: true, Version: 4 };
        int plainLength = content.Length;
        if (unsynchronised)
            content = Unsynchronisation.Apply(content);

        Span<byte> header = stackalloc byte[Id3v2Reader.HeaderLength];
        header.Clear();
        Encoding.Latin1.GetBytes(id, header);
        int length = content.Length + (unsynchronised ? 4 : 0);
        if (options.Version == 4)
            Syncsafe.Write(header[4..], length);
        else
            BinaryPrimitives.WriteInt32BigEndian(header[4..], length);
        header[9] = unsynchronised ? (byte)0x03 : (byte)0;
        stream.Write(header);
        if (unsynchronised)
        {
            Span<byte> stated = stackalloc byte[4];
            Syncsafe.Write(stated, plainLength);
            stream.Write(stated);
        }

        stream.Write(content);
    }

    public Id3v2Encoding EncodingFor(IEnumerable<string> texts)
    {
        if (options.Encoding is { } wanted)
            return wanted;
        if (texts.All(FitsLatin1))
            return Id3v2Encoding.Latin1;
        return options.Version == 4 ? Id3v2Encoding.Utf8 : Id3v2Encoding.Utf16WithMark;
    }

    private void Begin(Id3v2Encoding encoding)
    {
        _content.ResetWrittenCount();
        _content.Write<byte>([(byte)encoding]);
    }

    private static bool FitsLatin1(string text) => !text.AsSpan().ContainsAnyExcept(PlainLatin1);

    [GeneratedRegex("^(?<year>[0-9]{4})(-(?<month>[0-9]{2})-(?<day>[0-9]{2}))?$")]
    private static partial Regex PlainDate();
}
