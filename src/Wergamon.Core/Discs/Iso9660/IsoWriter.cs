using System.Buffers.Binary;
using System.Globalization;
using System.Text;
using Wergamon.Core.Bytes;

namespace Wergamon.Core.Discs.Iso9660;

/// <summary>A file to be put on a data disc.</summary>
/// <param name="Path">With '/' between its parts.</param>
/// <param name="Open">Gives its bytes; closed after use.</param>
public sealed record IsoSource(string Path, long Length, Func<Stream> Open);

/// <summary>
/// Writes ISO 9660 images (ECMA-119, level 2) with Joliet names beside the plain ones. Plain names are in capital letters, digits
/// and underscores, at most 31 characters; where two would be the same, they are numbered.
/// </summary>
public static class IsoWriter
{
    private const int SectorLength = IsoVolume.SectorLength;
    private const int FirstFree = 19;
    private const int LongestPlain = 31;
    private const int LongestJoliet = 64;

    /// <summary>With its dot; a longer part after a dot is not an extension.</summary>
    private const int LongestExtension = 8;

    private sealed class Folder(string name, Folder? parent)
    {
        public string Name { get; } = name;

        public Folder? Parent { get; } = parent;

        public SortedDictionary<string, Folder> Folders { get; } = new(StringComparer.Ordinal);

        public SortedDictionary<string, Entry> Files { get; } = new(StringComparer.Ordinal);

        /// <summary>Extents of its records: plain, Joliet.</summary>
        public uint[] Sector { get; } = new uint[2];

        public int[] Length { get; } = new int[2];

        /// <summary>Places in the path tables: plain, Joliet.</summary>
        public ushort[] Number { get; } = new ushort[2];

        /// <summary>Identifiers in the records of the folder above: plain, Joliet.</summary>
        public byte[][] Identifier { get; } = [[0], [0]];

        /// <summary>The contents of the folder in the order of its records: plain, Joliet.</summary>
        public IReadOnlyList<(byte[] Name, Folder? Folder, Entry? File)>[] Content { get; } = [[], []];
    }

    private sealed record Entry(IsoSource Source)
    {
        public uint Sector { get; set; }
    }

    /// <param name="Folders">In the order of each path table: plain, Joliet.</param>
    /// <param name="Entries">In the order of their contents: that of the list.</param>
    private sealed record Layout(
        Folder Root, IReadOnlyList<Folder>[] Folders, (uint Sector, int Length)[] PathTables, IReadOnlyList<Entry> Entries, uint End);

    /// <summary>The length of an image in sectors of 2,048 bytes; its files are not opened.</summary>
    public static long SectorsOf(IReadOnlyList<IsoSource> files) => Lay(files).End;

    /// <summary>Writes an image. The contents of files follow each other in the order of the list.</summary>
    /// <param name="image">Written from its start.</param>
    /// <param name="label">The name of the disc.</param>
    /// <param name="created">Date of every entry.</param>
    /// <exception cref="IOException">A file is too long for such a disc, or not as long as it was said to be.</exception>
    public static void Write(Stream image, string label, IReadOnlyList<IsoSource> files, DateTimeOffset created)
    {
        var (root, folders, pathTables, entries, sectors) = Lay(files);
        image.Write(new byte[16 * SectorLength]);
        for (int kind = 0; kind < 2; kind++)
            image.Write(Descriptor(kind, label, root, pathTables[kind], sectors, created));
        var end = new byte[SectorLength];
        end[0] = 255;
        "CD001"u8.CopyTo(end.AsSpan(1));
        end[6] = 1;
        image.Write(end);
        for (int kind = 0; kind < 2; kind++)
        {
            WritePadded(image, PathTable(folders[kind], kind, isBig: false));
            WritePadded(image, PathTable(folders[kind], kind, isBig: true));
            foreach (var folder in folders[kind])
                WritePadded(image, Records(folder, kind, created));
        }

        foreach (var entry in entries)
        {
            using var source = entry.Source.Open();
            long before = image.Position;
            source.CopyTo(image);
            if (image.Position - before != entry.Source.Length)
                throw new IOException($"{entry.Source.Path} changed while it was being written to the disc.");
            Pad(image);
        }
    }

    private static Layout Lay(IReadOnlyList<IsoSource> files)
    {
        var (root, entries) = Tree(files);
        uint next = FirstFree;
        var pathTables = new (uint Sector, int Length)[2];
        var folders = new IReadOnlyList<Folder>[2];
        for (int kind = 0; kind < 2; kind++)
        {
            folders[kind] = InPathTableOrder(root, kind);
            int length = folders[kind].Sum(folder => PathEntryLength(folder, kind));
            pathTables[kind] = (next, length);
            // Both byte orders.
            next += 2 * (uint)Sectors(length);
            foreach (var folder in folders[kind])
            {
                folder.Length[kind] = Sectors(PlaceRecords(folder, kind).Length) * SectorLength;
                folder.Sector[kind] = next;
                next += (uint)Sectors(folder.Length[kind]);
            }
        }

        foreach (var entry in entries)
        {
            if (entry.Source.Length > uint.MaxValue)
                throw new IOException($"{entry.Source.Path} is longer than a file on such a disc may be (4 GB).");
            entry.Sector = next;
            next = checked(next + (uint)((entry.Source.Length + SectorLength - 1) / SectorLength));
        }

        return new Layout(root, folders, pathTables, entries, next);
    }

    private static (Folder Root, List<Entry> Entries) Tree(IReadOnlyList<IsoSource> files)
    {
        var root = new Folder("", null);
        var entries = new List<Entry>();
        foreach (var file in files)
        {
            var parts = file.Path.Split('/');
            var folder = root;
            foreach (var part in parts[..^1])
            {
                if (!folder.Folders.TryGetValue(part, out var inner))
                    folder.Folders[part] = inner = new Folder(part, folder);
                folder = inner;
            }

            var entry = new Entry(file);
            folder.Files.Add(parts[^1], entry);
            entries.Add(entry);
        }

        return (root, entries);
    }

    /// <summary>Folders by depth, then by the place of the one above, then by name (ECMA-119, 6.9.1).</summary>
    private static List<Folder> InPathTableOrder(Folder root, int kind)
    {
        var all = new List<Folder> { root };
        for (int i = 0; i < all.Count; i++)
        {
            var folder = all[i];
            folder.Number[kind] = checked((ushort)(i + 1));
            folder.Content[kind] = Named(folder, kind);
            foreach (var (name, inner, _) in folder.Content[kind])
            {
                if (inner is null)
                    continue;
                inner.Identifier[kind] = name;
                all.Add(inner);
            }
        }

        return all;
    }

    private static byte[] NameOf(string name, int kind, bool isFolder)
    {
        if (name.Length == 0)
            return [0];
        if (kind == 1)
            return Encoding.BigEndianUnicode.GetBytes(ForJoliet(name, isFolder) + (isFolder ? "" : ";1"));
        var upper = WellFormedText.Normalize(name, NormalizationForm.FormD).ToUpperInvariant();
        int dot = isFolder ? -1 : DotOf(upper);
        string Clean(string part) =>
            new(
                [
                    .. part.Where(each => CharUnicodeInfo.GetUnicodeCategory(each) != UnicodeCategory.NonSpacingMark)
                        .Select(each => each is >= 'A' and <= 'Z' or >= '0' and <= '9' ? each : '_')
                ]);
        var extension = dot < 0 ? "" : "." + Clean(upper[(dot + 1)..]);
        var stem = Clean(dot < 0 ? upper : upper[..dot]);
        int most = LongestPlain - extension.Length;
        return Encoding.ASCII.GetBytes(
            (stem.Length > most ? stem[..most] : stem) + (isFolder ? "" : (extension.Length == 0 ? "." : extension) + ";1"));
    }

    /// <summary>Where the extension begins; -1 without one.</summary>
    private static int DotOf(string name) => name.LastIndexOf('.') is var dot && name.Length - dot > LongestExtension ? -1 : dot;

    /// <summary>At most 64 characters, the extension kept, without those that the specification excludes.</summary>
    private static string ForJoliet(string name, bool isFolder)
    {
        var allowed = string.Concat(name.Select(each => each is '*' or '/' or ':' or ';' or '?' or '\\' or < ' ' ? '_' : each));
        if (allowed.Length <= LongestJoliet)
            return allowed;
        int dot = isFolder ? -1 : DotOf(allowed);
        var extension = dot < 0 ? "" : allowed[dot..];
        int most = LongestJoliet - extension.Length;
        return allowed[..(char.IsHighSurrogate(allowed[most - 1]) ? most - 1 : most)] + extension;
    }

    /// <summary>Records of a folder in order of name; names made equal by truncation are numbered.</summary>
    private static List<(byte[] Name, Folder? Folder, Entry? File)> Named(Folder folder, int kind)
    {
        var taken = new HashSet<string>();
        var named = new List<(byte[] Name, Folder? Folder, Entry? File)>();
        byte[] Unique(string name, bool isFolder)
        {
            var bytes = NameOf(name, kind, isFolder);
            for (int number = 2; !taken.Add(System.Convert.ToHexString(bytes)); number++)
            {
                int dot = isFolder ? -1 : DotOf(name);
                var stem = dot < 0 ? name : name[..dot];
                bytes = NameOf(
                    string.Create(
                        CultureInfo.InvariantCulture, $"{(stem.Length > 20 ? stem[..20] : stem)}_{number}{(dot < 0 ? "" : name[dot..])}"),
                    kind, isFolder);
            }

            return bytes;
        }

        named.AddRange(folder.Folders.Values.Select(inner => (Unique(inner.Name, true), (Folder?)inner, (Entry?)null)));
        named.AddRange(folder.Files.Select(pair => (Unique(pair.Key, false), (Folder?)null, (Entry?)pair.Value)));
        return [.. named.OrderBy(item => System.Convert.ToHexString(item.Name), StringComparer.Ordinal)];
    }

    private static int RecordLength(byte[] name) => 33 + name.Length + (1 - name.Length % 2);

    /// <summary>Where each record of a folder starts; none crosses a sector.</summary>
    private static (List<int> Places, int Length) PlaceRecords(Folder folder, int kind)
    {
        var places = new List<int>();
        int at = 2 * 34;
        foreach (var (name, _, _) in folder.Content[kind])
        {
            int length = RecordLength(name);
            if (at % SectorLength + length > SectorLength)
                at = (at / SectorLength + 1) * SectorLength;
            places.Add(at);
            at += length;
        }

        return (places, at);
    }

    private static byte[] Records(Folder folder, int kind, DateTimeOffset created)
    {
        var bytes = new byte[folder.Length[kind]];
        var parent = folder.Parent ?? folder;
        WriteRecord(bytes, [0], folder.Sector[kind], (uint)folder.Length[kind], isFolder: true, created);
        WriteRecord(bytes.AsSpan(34), [1], parent.Sector[kind], (uint)parent.Length[kind], isFolder: true, created);
        var places = PlaceRecords(folder, kind).Places;
        var named = folder.Content[kind];
        for (int i = 0; i < named.Count; i++)
        {
            var (name, inner, file) = named[i];
            var into = bytes.AsSpan(places[i]);
            if (inner is not null)
                WriteRecord(into, name, inner.Sector[kind], (uint)inner.Length[kind], isFolder: true, created);
            else
                WriteRecord(into, name, file!.Sector, (uint)file.Source.Length, isFolder: false, created);
        }

        return bytes;
    }

    private static void WriteRecord(Span<byte> into, byte[] name, uint sector, uint length, bool isFolder, DateTimeOffset created)
    {
        into[0] = (byte)RecordLength(name);
        BothEndian(into[2..], sector);
        BothEndian(into[10..], length);
        var utc = created.ToUniversalTime();
        (into[18], into[19], into[20], into[21], into[22], into[23]) = (
            (byte)(utc.Year - 1900), (byte)utc.Month, (byte)utc.Day, (byte)utc.Hour, (byte)utc.Minute, (byte)utc.Second);
        into[25] = isFolder ? (byte)2 : (byte)0;
        (into[28], into[31]) = (1, 1);
        into[32] = (byte)name.Length;
        name.CopyTo(into[33..]);
    }

    private static int PathEntryLength(Folder folder, int kind) => 8 + folder.Identifier[kind].Length + folder.Identifier[kind].Length % 2;

    private static byte[] PathTable(IReadOnlyList<Folder> folders, int kind, bool isBig)
    {
        var bytes = new byte[folders.Sum(folder => PathEntryLength(folder, kind))];
        int at = 0;
        foreach (var folder in folders)
        {
            var name = folder.Identifier[kind];
            var into = bytes.AsSpan(at);
            into[0] = (byte)name.Length;
            ushort parent = (folder.Parent ?? folder).Number[kind];
            if (isBig)
            {
                BinaryPrimitives.WriteUInt32BigEndian(into[2..], folder.Sector[kind]);
                BinaryPrimitives.WriteUInt16BigEndian(into[6..], parent);
            }
            else
            {
                BinaryPrimitives.WriteUInt32LittleEndian(into[2..], folder.Sector[kind]);
                BinaryPrimitives.WriteUInt16LittleEndian(into[6..], parent);
            }

            name.CopyTo(into[8..]);
            at += PathEntryLength(folder, kind);
        }

        return bytes;
    }

    private static byte[] Descriptor(
        int kind, string label, Folder root, (uint Sector, int Length) pathTable, uint sectors, DateTimeOffset created)
    {
        var bytes = new byte[SectorLength];
        bytes[0] = (byte)(kind + 1);
        "CD001"u8.CopyTo(bytes.AsSpan(1));
        bytes[6] = 1;
        Fill(bytes.AsSpan(8, 32), "", kind);
        Fill(bytes.AsSpan(40, 32), kind == 1 ? label : Encoding.ASCII.GetString(NameOf(label, 0, isFolder: true)), kind);
        BothEndian(bytes.AsSpan(80), sectors);
        if (kind == 1)
            (bytes[88], bytes[89], bytes[90]) = (0x25, 0x2F, 0x45);
        BothEndian16(bytes.AsSpan(120), 1);
        BothEndian16(bytes.AsSpan(124), 1);
        BothEndian16(bytes.AsSpan(128), SectorLength);
        BothEndian(bytes.AsSpan(132), (uint)pathTable.Length);
        BinaryPrimitives.WriteUInt32LittleEndian(bytes.AsSpan(140), pathTable.Sector);
        BinaryPrimitives.WriteUInt32BigEndian(bytes.AsSpan(148), pathTable.Sector + (uint)Sectors(pathTable.Length));
        WriteRecord(bytes.AsSpan(156), [0], root.Sector[kind], (uint)root.Length[kind], isFolder: true, created);
        Fill(bytes.AsSpan(190, 623), "", kind);
        var stamp = Encoding.ASCII.GetBytes(created.ToUniversalTime().ToString("yyyyMMddHHmmss00", CultureInfo.InvariantCulture));
        stamp.CopyTo(bytes.AsSpan(813));
        stamp.CopyTo(bytes.AsSpan(830));
        "0000000000000000"u8.CopyTo(bytes.AsSpan(847));
        stamp.CopyTo(bytes.AsSpan(864));
        bytes[881] = 1;
        return bytes;
    }

    private static void Fill(Span<byte> field, string text, int kind)
    {
        if (kind == 0)
        {
            field.Fill((byte)' ');
            Encoding.ASCII.GetBytes(text.Length > field.Length ? text[..field.Length] : text, field);
            return;
        }

        for (int i = 0; i + 1 < field.Length; i += 2)
            (field[i], field[i + 1]) = (0, (byte)' ');
        int most = field.Length / 2;
        Encoding.BigEndianUnicode.GetBytes(text.Length > most ? text[..most] : text, field);
    }

    private static void BothEndian(Span<byte> into, uint value)
    {
        BinaryPrimitives.WriteUInt32LittleEndian(into, value);
        BinaryPrimitives.WriteUInt32BigEndian(into[4..], value);
    }

    private static void BothEndian16(Span<byte> into, ushort value)
    {
        BinaryPrimitives.WriteUInt16LittleEndian(into, value);
        BinaryPrimitives.WriteUInt16BigEndian(into[2..], value);
    }

    private static int Sectors(int length) => (length + SectorLength - 1) / SectorLength;

    private static void WritePadded(Stream image, byte[] bytes)
    {
        image.Write(bytes);
        Pad(image);
    }

    private static void Pad(Stream image)
    {
        int over = (int)(image.Position % SectorLength);
        if (over > 0)
            image.Write(new byte[SectorLength - over]);
    }
}
