using System.Buffers;
using System.Buffers.Binary;
using System.Buffers.Text;
using System.Globalization;
using System.Text;

namespace Wergamon.Core.Tags.VorbisComment;

/// <summary>The comment header of Vorbis (Vorbis I specification, section 5) without its framing bit, as FLAC uses it.</summary>
public static class VorbisCommentBlock
{
    private const string Vendor = "Wergamon";

    /// <summary>A FLAC picture block in base64, as Ogg files hold pictures (common practice, no source).</summary>
    private const string PictureKey = "METADATA_BLOCK_PICTURE";

    /// <summary>Maximum fields, more than any real file has; keeps a hostile one from costing time.</summary>
    private const uint MaxFields = 10_000;

    /// <summary>Adds the fields of a block to a set. A bad length ends the reading and keeps what came before.</summary>
    public static void Read(ReadOnlySpan<byte> block, TagSet into, List<string> damage)
    {
        if (!TryTake(ref block, out _) || block.Length < 4)
        {
            damage.Add("The comment block is damaged at its start; no tags could be read from it.");
            return;
        }

        uint count = BinaryPrimitives.ReadUInt32LittleEndian(block);
        block = block[4..];
        if (count > MaxFields)
            damage.Add(
                string.Create(CultureInfo.InvariantCulture, $"The comment block has more than {MaxFields} fields; the rest was left out."));
        var chapters = new ChapterComments();
        for (uint i = 0; i < Math.Min(count, MaxFields); i++)
        {
            if (!TryTake(ref block, out var comment))
            {
                damage.Add($"The comment block is damaged: {i} of {count} fields could be read.");
                break;
            }

            int equals = comment.IndexOf((byte)'=');
            if (equals == PictureKey.Length && Ascii.EqualsIgnoreCase(comment[..equals], PictureKey))
                AddPicture(into, comment[(equals + 1)..], damage);
            else if (equals > 0 && !chapters.TryAdd(comment[..equals], comment[(equals + 1)..]))
                into.AddNumbered(
                    VorbisCommentNames.ToName(Encoding.ASCII.GetString(comment[..equals])),
                    Encoding.UTF8.GetString(comment[(equals + 1)..]).Replace("\0", "", StringComparison.Ordinal));
        }

        chapters.AddTo(into);
    }

    /// <param name="withPictures">True to write pictures as comments, as Ogg files hold them; FLAC has blocks for them.</param>
    public static byte[] Write(TagSet tags, bool withPictures = false)
    {
        using var stream = new MemoryStream();
        Write(stream, tags, withPictures);
        return stream.ToArray();
    }

    /// <summary>As <see cref="Write(TagSet, bool)"/>, at the stream's position.</summary>
    public static void Write(MemoryStream stream, TagSet tags, bool withPictures = false)
    {
        WriteString(stream, Vendor);
        var comments = tags.Fields.Where(CanHold).SelectMany(CommentsOf).ToList();
        var pictures = withPictures ? tags.Pictures : [];
        WriteLength(stream, comments.Count + pictures.Count);
        foreach (var comment in comments)
            WriteString(stream, comment);
        foreach (var picture in pictures)
            WritePicture(stream, picture);
    }

    /// <summary>The key under which a field is written.</summary>
    public static string NameOf(string field) => VorbisCommentNames.ToKey(field);

    public static bool CanHold(TagField field) => VorbisCommentNames.IsKey(VorbisCommentNames.ToKey(field.Name));

    private static IEnumerable<string> CommentsOf(TagField field) =>
        field.Name.Equals(FieldNames.Chapters, StringComparison.OrdinalIgnoreCase)
            ? ChapterComments.Write(field.Values)
            : field.Values.Select(value => $"{VorbisCommentNames.ToKey(field.Name)}={value}");

    private static void AddPicture(TagSet into, ReadOnlySpan<byte> base64, List<string> damage)
    {
        var block = GC.AllocateUninitializedArray<byte>(Base64.GetMaxDecodedFromUtf8Length(base64.Length));
        if (Base64.DecodeFromUtf8(base64, block, out _, out int length) == OperationStatus.Done
            && FlacPictureBlock.Read(block.AsMemory(0, length)) is { } picture)
            into.Pictures.Add(picture);
        else
            damage.Add("A picture is damaged and was skipped.");
    }

    private static bool TryTake(ref ReadOnlySpan<byte> block, out ReadOnlySpan<byte> taken)
    {
        taken = default;
        if (block.Length < 4)
            return false;
        uint length = BinaryPrimitives.ReadUInt32LittleEndian(block);
        if (length > block.Length - 4)
            return false;
        taken = block.Slice(4, (int)length);
        block = block[(4 + (int)length)..];
        return true;
    }

    private static void WritePicture(MemoryStream stream, Picture picture)
    {
        int blockLength = FlacPictureBlock.LengthOf(picture), length = Base64.GetMaxEncodedToUtf8Length(blockLength);
        WriteLength(stream, PictureKey.Length + 1 + length);
        stream.Write(Encoding.ASCII.GetBytes(PictureKey + "="));
        int at = (int)stream.Position;
        FlacPictureBlock.Write(stream, picture);
        stream.SetLength(at + length);
        Base64.EncodeToUtf8InPlace(stream.GetBuffer().AsSpan(at, length), blockLength, out _);
        stream.Position = at + length;
    }

    private static void WriteString(MemoryStream stream, string text)
    {
        var bytes = Encoding.UTF8.GetBytes(text);
        WriteLength(stream, bytes.Length);
        stream.Write(bytes);
    }

    private static void WriteLength(MemoryStream stream, int length)
    {
        Span<byte> bytes = stackalloc byte[4];
        BinaryPrimitives.WriteInt32LittleEndian(bytes, length);
        stream.Write(bytes);
    }
}
