using System.Globalization;
using System.Text;
using System.Xml;
using Wergamon.Core.Bytes;

namespace Wergamon.Core.Playlists;

/// <summary>XML Shareable Playlist Format, version 1 (xspf.org/spec). Marks of a track are in an extension of ours.</summary>
internal sealed class XspfFormat : PlaylistFormat
{
    private const string Namespace = "http://xspf.org/ns/0/";

    /// <summary>Names the extension, and its elements.</summary>
    private const string Marks = "urn:wergamon:marks:1";

    public override string Name => "XSPF";

    public override string Extension => ".xspf";

    public override string MimeType => "application/xspf+xml";

    public override string Write(Playlist playlist)
    {
        var bytes = new MemoryStream();
        using (var writer = XmlWriter.Create(
            bytes, new XmlWriterSettings { Indent = true, Encoding = new UTF8Encoding(false), NewLineChars = "\n" }))
        {
            writer.WriteStartElement("playlist", Namespace);
            writer.WriteAttributeString("version", "1");
            WriteText(writer, "title", playlist.Title);
            writer.WriteStartElement("trackList", Namespace);
            foreach (var entry in playlist.Entries)
            {
                writer.WriteStartElement("track", Namespace);
                if (entry.Path.Length > 0)
                    WriteText(writer, "location", LocationOf(entry.Path));
                WriteText(writer, "title", entry.Title);
                WriteText(writer, "creator", entry.Artist);
                WriteText(writer, "album", entry.Album);
                if (entry.Duration is { } duration)
                    WriteText(writer, "duration", Math.Round(duration.TotalMilliseconds).ToString(CultureInfo.InvariantCulture));
                WriteMarks(writer, entry.Marks);
                writer.WriteEndElement();
            }

            writer.WriteEndElement();
            writer.WriteEndElement();
        }

        return Encoding.UTF8.GetString(bytes.GetBuffer(), 0, (int)bytes.Length) + "\n";
    }

    public override Playlist? Read(string text)
    {
        if (!text.TrimStart('\uFEFF', ' ', '\t', '\r', '\n').StartsWith('<'))
            return null;
        var title = "";
        var entries = new List<PlaylistEntry>();
        try
        {
            using var reader = XmlReader.Create(
                new StringReader(text.TrimStart('\uFEFF')),
                new XmlReaderSettings
                {
                    DtdProcessing = DtdProcessing.Prohibit,
                    XmlResolver = null,
                    IgnoreWhitespace = true,
                    IgnoreComments = true
                });
            if (reader.MoveToContent() != XmlNodeType.Element || reader is not { LocalName: "playlist", NamespaceURI: Namespace })
                return null;
            while (reader.Read())
            {
                if (reader.NodeType != XmlNodeType.Element || reader.NamespaceURI != Namespace)
                    continue;
                if (reader is { LocalName: "title", Depth: 1 })
                    title = TextOf(reader);
                else if (reader.LocalName == "track" && entries.Count < MaxEntries)
                    entries.Add(ReadTrack(reader));
            }
        }
        catch (XmlException)
        {
            // What came before the damage is kept.
        }

        return entries.Count > 0 ? new Playlist(title, entries) : null;
    }

    /// <summary>Reads up to the end of the track; the first location counts, as the specification asks for.</summary>
    private static PlaylistEntry ReadTrack(XmlReader reader)
    {
        var entry = new PlaylistEntry("", "", "", null);
        if (reader.IsEmptyElement)
            return entry;
        int depth = reader.Depth;
        while (reader.Read() && reader.Depth > depth)
        {
            if (reader.NodeType != XmlNodeType.Element || reader.Depth != depth + 1 || reader.NamespaceURI != Namespace)
                continue;
            entry = reader.LocalName switch
            {
                "location" when entry.Path.Length == 0 => entry with { Path = PathOf(TextOf(reader)) },
                "title" => entry with { Title = TextOf(reader) },
                "creator" => entry with { Artist = TextOf(reader) },
                "album" => entry with { Album = TextOf(reader) },
                "duration" =>
                    entry with
                    {
                        Duration = long.TryParse(TextOf(reader), NumberStyles.None, CultureInfo.InvariantCulture, out long ms)
                                && ms is > 0 and < 1000L * MaxSeconds
                            ? TimeSpan.FromMilliseconds(ms)
                            : null
                    },
                "extension" when reader.GetAttribute("application") == Marks => entry with { Marks = ReadMarks(reader) },
                _ => entry,
            };
        }

        return entry;
    }

    private static List<PlaylistMark> ReadMarks(XmlReader reader)
    {
        var marks = new List<PlaylistMark>();
        int depth = reader.Depth;
        if (reader.IsEmptyElement)
            return marks;
        while (reader.Read() && reader.Depth > depth)
        {
            if (reader is { NodeType: XmlNodeType.Element, LocalName: "mark", NamespaceURI: Marks } && marks.Count < MaxMarks
                && double.TryParse(
                        reader.GetAttribute("seconds"), NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out double seconds)
                    && seconds is >= 0 and < MaxSeconds)
                marks.Add(new PlaylistMark(seconds, reader.GetAttribute("title") ?? ""));
        }

        marks.Sort((one, other) => one.Seconds.CompareTo(other.Seconds));
        return marks;
    }

    private static void WriteMarks(XmlWriter writer, IReadOnlyList<PlaylistMark> marks)
    {
        if (marks.Count == 0)
            return;
        writer.WriteStartElement("extension", Namespace);
        writer.WriteAttributeString("application", Marks);
        foreach (var mark in marks)
        {
            writer.WriteStartElement("mark", Marks);
            writer.WriteAttributeString("seconds", mark.Seconds.ToString("0.###", CultureInfo.InvariantCulture));
            if (mark.Title.Length > 0)
                writer.WriteAttributeString("title", WellFormedText.From(mark.Title));
            writer.WriteEndElement();
        }

        writer.WriteEndElement();
    }

    /// <summary>The text of an element, without moving past its end.</summary>
    private static string TextOf(XmlReader reader)
    {
        if (reader.IsEmptyElement)
            return "";
        int depth = reader.Depth;
        var text = new StringBuilder();
        while (reader.Read() && reader.Depth > depth)
        {
            if (reader.NodeType is XmlNodeType.Text or XmlNodeType.CDATA or XmlNodeType.SignificantWhitespace)
                text.Append(reader.Value);
        }

        return text.ToString().Trim();
    }

    /// <summary>As an address: each part of the path escaped.</summary>
    private static string LocationOf(string path)
    {
        var escaped = string.Join('/', WellFormedText.From(path).Split('/').Select(Uri.EscapeDataString));
        return path.StartsWith('/') ? "file://" + escaped : escaped;
    }

    private static void WriteText(XmlWriter writer, string name, string text)
    {
        if (text.Length > 0)
            writer.WriteElementString(name, Namespace, WellFormedText.From(text));
    }

}
