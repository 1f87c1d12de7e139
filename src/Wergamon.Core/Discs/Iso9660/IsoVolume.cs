using System.Buffers.Binary;
using System.Text;
using Wergamon.Core.Bytes;

namespace Wergamon.Core.Discs.Iso9660;

/// <summary>A file on a data disc.</summary>
/// <param name="Path">With '/' between its parts and no version number.</param>
/// <param name="Offset">Offset of its contents in the image, in bytes.</param>
public sealed record IsoFile(string Path, long Offset, long Length)
{
    public string Name => Path[(Path.LastIndexOf('/') + 1)..];
}

/// <summary>
/// The file tree of an ISO 9660 disc (ECMA-119), by its Joliet names where it has them. Damaged parts are left out and reported;
/// nothing is read outside the image, and loops of folders end.
/// </summary>
public sealed class IsoVolume
{
    public const int SectorLength = 2048;

    private const int FirstDescriptor = 16;
    private const int MaxDescriptors = 64;
    private const int MaxEntries = 100_000;
    private const int MaxDepth = 32;
    private const long LongestFolder = 16 << 20;
    private const byte IsFolder = 0x02, IsContinued = 0x80;

    private readonly List<IsoFile> _files = [];
    private readonly List<string> _damage = [];
    private readonly HashSet<long> _visited = [];
    private readonly Stream _image;
    private readonly bool _isJoliet;

    private IsoVolume(Stream image, ReadOnlySpan<byte> descriptor, bool isJoliet)
    {
        (_image, _isJoliet) = (image, isJoliet);
        Label = TextOf(descriptor.Slice(40, 32)).TrimEnd(' ', '\0');
        ReadFolder(descriptor.Slice(156, 34), "", 0);
        _files.Sort((one, other) => string.CompareOrdinal(one.Path, other.Path));
    }

    public string Label { get; }

    /// <summary>All files, by path.</summary>
    public IReadOnlyList<IsoFile> Files => _files;

    public IReadOnlyList<string> Damage => _damage;

    /// <summary>Reads the tree; null for anything that is not an ISO 9660 image.</summary>
    /// <param name="image">Sectors of 2,048 bytes; seekable.</param>
    public static IsoVolume? TryRead(Stream image)
    {
        byte[]? primary = null, joliet = null;
        for (int i = 0; i < MaxDescriptors; i++)
        {
            var sector = new byte[SectorLength];
            image.Position = (long)(FirstDescriptor + i) * SectorLength;
            if (!image.TryReadWhole(sector) || !sector.AsSpan(1, 5).SequenceEqual("CD001"u8) || sector[0] == 255)
                break;
            if (sector[0] == 1)
                primary ??= sector;
            // The escape sequences of UCS-2 levels 1 to 3 (Joliet specification; ISO 2022).
            else if (sector[0] == 2 && sector[88] == 0x25 && sector[89] == 0x2F && sector[90] is 0x40 or 0x43 or 0x45)
                joliet ??= sector;
        }

        return (joliet ?? primary) is { } descriptor ? new IsoVolume(image, descriptor, joliet is not null) : null;
    }

    /// <summary>The bytes of a file; reads from the image as long as that is open.</summary>
    public Stream Open(IsoFile file) => new PartStream(_image, file.Offset, file.Length);

    private void ReadFolder(ReadOnlySpan<byte> record, string path, int depth)
    {
        long offset = (long)BinaryPrimitives.ReadUInt32LittleEndian(record[2..]) * SectorLength;
        long length = BinaryPrimitives.ReadUInt32LittleEndian(record[10..]);
        if (depth > MaxDepth || !_visited.Add(offset))
        {
            _damage.Add($"The folder {Named(path)} leads back into another folder and was skipped.");
            return;
        }

        if (length > LongestFolder || offset + length > _image.Length)
        {
            _damage.Add($"The folder {Named(path)} claims more than the disc holds and was skipped.");
            return;
        }

        _image.Position = offset;
        if (_image.TryReadBlock(length) is not { } entries)
            return;
        long continuedFrom = -1, continuedLength = 0;
        for (int at = 0; at < entries.Length;)
        {
            int size = entries[at];
            if (size == 0)
            {
                // Records do not cross sectors; the rest of this one is empty.
                at = (at / SectorLength + 1) * SectorLength;
                continue;
            }

            if (size < 34 || at + size > entries.Length || 33 + entries[at + 32] > size)
            {
                _damage.Add($"The folder {Named(path)} is damaged; the rest of it was skipped.");
                return;
            }

            var entry = entries.AsSpan(at, size);
            at += size;
            if (entry[32] == 1 && entry[33] is 0 or 1)
                continue;
            if (_files.Count + _visited.Count > MaxEntries)
            {
                _damage.Add("The disc has too many files; only the first are read.");
                return;
            }

            TakeEntry(entry, path, depth, ref continuedFrom, ref continuedLength);
        }
    }

    private void TakeEntry(ReadOnlySpan<byte> entry, string path, int depth, ref long continuedFrom, ref long continuedLength)
    {
        var name = TextOf(entry.Slice(33, entry[32])).Replace('/', '_');
        int version = name.LastIndexOf(';');
        name = (version > 0 ? name[..version] : name).TrimEnd('.');
        if (name.Length == 0 || name is "..")
            return;
        var whole = path.Length == 0 ? name : path + "/" + name;
        if ((entry[25] & IsFolder) != 0)
        {
            ReadFolder(entry, whole, depth + 1);
            return;
        }

        long offset = ((long)BinaryPrimitives.ReadUInt32LittleEndian(entry[2..]) + entry[1]) * SectorLength;
        long length = BinaryPrimitives.ReadUInt32LittleEndian(entry[10..]);
        if (continuedFrom >= 0 && continuedFrom + continuedLength == offset)
            (offset, length) = (continuedFrom, continuedLength + length);
        (continuedFrom, continuedLength) = (entry[25] & IsContinued) != 0 ? (offset, length) : (-1, 0);
        if (continuedFrom >= 0)
            return;
        if (offset > _image.Length || length > _image.Length - offset)
            _damage.Add($"The file {whole} ends early; the disc is cut off.");
        else
            _files.Add(new IsoFile(whole, offset, length));
    }

    private static string Named(string path) => path.Length == 0 ? "at the root" : path;

    private string TextOf(ReadOnlySpan<byte> bytes) =>
        WellFormedText.From(_isJoliet ? Encoding.BigEndianUnicode.GetString(bytes) : Encoding.Latin1.GetString(bytes));
}
