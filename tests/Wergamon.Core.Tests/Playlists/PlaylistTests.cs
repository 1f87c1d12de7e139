using System.Xml.Linq;
using CsCheck;
using Wergamon.Core.Playlists;

namespace Wergamon.Core.Tests.Playlists;

/// <summary>Playlists as files, and which tracks they mean.</summary>
public sealed class PlaylistTests
{
    private static readonly KnownFile[] Files =
    [
        new(1, "/music/Quarry Lamps/Night Shift/03 Slatebreaker.flac", "Slatebreaker", "The Quarry Lamps", TimeSpan.FromSeconds(214)),
        new(1, "/phone/03 Slatebreaker.mp3", "Slatebreaker", "The Quarry Lamps", TimeSpan.FromSeconds(214)),
        new(2, "/music/Underlamp/June/03 Shotfirer.flac", "Shotfirer", "Slow Carbide", TimeSpan.FromSeconds(300)),
        new(3, "/music/Underlamp/July/03 Shotfirer.flac", "Shotfirer", "Slow Carbide", TimeSpan.FromSeconds(310)),
        new(4, "/music/Lantern, фонарь.flac", "Lantern, фонарь", "Odalys Fenn", TimeSpan.FromSeconds(200)),
    ];

    /// <summary>Any text that is one line and has no blanks around it, as tags have.</summary>
    private static readonly Gen<string> Text = Gen.String[Gen.OneOf(Gen.Char['a', 'z'], Gen.Char[" &<>'\"#,;-äé漢фن/\\%"]), 0, 20]
        .Select(text => text.Trim());

    private static readonly Gen<Playlist> Lists = Gen.Select(
        Text,
        Gen.Select(Text, Text, Text, Gen.Int[0, 10_000], (title, artist, album, seconds) => (title, artist, album, seconds)).Array[1, 8],
        (title, entries) => new Playlist(title, [.. entries.Select((entry, i) => new PlaylistEntry(
            $"/music/{entry.album.Trim('/')}/#{i} {entry.title}.flac", entry.title, entry.artist,
            entry.seconds == 0 ? null : TimeSpan.FromSeconds(entry.seconds)) { Album = entry.album })]));

    [Fact]
    public void Xspf_and_csv_read_back_all_that_they_wrote() => Lists.Sample(list =>
    {
        Assert.Equal(list.Entries, PlaylistFormat.ReadAny(PlaylistFormat.Csv.Write(list))!.Entries);
        var xspf = PlaylistFormat.ReadAny(PlaylistFormat.Xspf.Write(list))!;
        Assert.Equal((list.Title, list.Entries.Count), (xspf.Title, xspf.Entries.Count));
        Assert.Equal(list.Entries, xspf.Entries);
    });

    /// <summary>A cue sheet has no lengths and no albums; what it cannot quote becomes an apostrophe.</summary>
    [Fact]
    public void Cue_sheets_read_back_files_names_and_gaps() => Gen.Select(Lists, Gen.Int[0, 40]).Sample((list, tenths) =>
    {
        var text = PlaylistFormat.Cue.Write(list with { Gap = TimeSpan.FromSeconds(tenths / 10.0) });
        var read = PlaylistFormat.ReadAny(text)!;
        Assert.Equal(
            list.Entries.Select(entry => (Quoted(entry.Path), Quoted(entry.Title), Quoted(entry.Artist))),
            read.Entries.Select(entry => (entry.Path, entry.Title, entry.Artist)));
        Assert.Equal(Quoted(list.Title), read.Title);
        Assert.InRange(read.Gap.TotalSeconds, list.Entries.Count > 1 ? tenths / 10.0 - 0.007 : 0, tenths / 10.0 + 0.007);
    });

    [Fact]
    public void Cue_tracks_sharing_a_file_are_matched_by_name_and_length()
    {
        var read = PlaylistFormat.ReadAny(
            """
            PERFORMER "Slow Carbide"
            FILE "Whole night.wav" WAVE
              TRACK 01 AUDIO
                TITLE "Shotfirer"
                INDEX 00 00:00:00
                INDEX 01 00:02:00
              TRACK 02 AUDIO
                TITLE "Lantern, фонарь"
                PERFORMER "Odalys Fenn"
                INDEX 01 05:02:00
            """)!;
        Assert.Equal(
            [
                new PlaylistEntry("", "Shotfirer", "Slow Carbide", TimeSpan.FromMinutes(5)),
                new PlaylistEntry("", "Lantern, фонарь", "Odalys Fenn", null)
            ],
            read.Entries);
        Assert.Equal([2L, 4L], read.Entries.Select(entry => new PlaylistMatching(Files).Find(entry)));
    }

    [Fact]
    public void Marks_are_kept_in_an_extension_of_xspf_that_other_readers_skip() => Gen.Select(
        Text, Gen.Int[0, 600_000]).Array[1, 5].Sample(
        marks =>
    {
        var wanted = marks.Select(mark => new PlaylistMark(mark.Item2 / 1000.0, mark.Item1)).OrderBy(mark => mark.Seconds).ToList();
        var entry = new PlaylistEntry("/music/a.flac", "A", "", TimeSpan.FromSeconds(600)) { Marks = wanted };
        var text = PlaylistFormat.Xspf.Write(new Playlist("", [entry]));
        Assert.Equal(wanted, PlaylistFormat.ReadAny(text)!.Entries[0].Marks);
        var extension = Assert.Single(XDocument.Parse(text).Descendants(XName.Get("extension", "http://xspf.org/ns/0/")));
        Assert.True(Uri.TryCreate(extension.Attribute("application")!.Value, UriKind.Absolute, out _), "The specification asks for a URI.");
    });

    /// <summary>Lists by older software, in the encodings that it uses. <em>Common practice, no source.</em></summary>
    [Theory]
    [InlineData("utf-8")]
    [InlineData("iso-8859-1")]
    [InlineData("utf-16")]
    [InlineData("utf-16BE")]
    public void Lists_are_read_in_the_usual_encodings(string name)
    {
        var encoding = System.Text.Encoding.GetEncoding(name);
        byte[] file = [
            .. name.StartsWith("utf-16", StringComparison.Ordinal) ? encoding.GetPreamble() : [],
            .. encoding.GetBytes("#EXTM3U\n#EXTINF:214,Änthracite - Grubenlicht für zwei\n/music/für zwei.flac\n")
        ];
        Assert.Equal(
            new PlaylistEntry("/music/für zwei.flac", "Grubenlicht für zwei", "Änthracite", TimeSpan.FromSeconds(214)),
            Assert.Single(PlaylistFormat.ReadAny(file.AsSpan())!.Entries));
    }

    private static string Quoted(string text) => text.Replace('"', '\'');

    /// <summary>M3U has no album, and one text for artist and title.</summary>
    [Fact]
    public void M3u_reads_back_paths_lengths_and_names() => Lists.Sample(list =>
    {
        var read = PlaylistFormat.M3u8.Read(PlaylistFormat.M3u8.Write(list))!;
        Assert.Equal(list.Title, read.Title);
        Assert.Equal(
            list.Entries.Select(entry => (entry.Path, entry.Duration)), read.Entries.Select(entry => (entry.Path, entry.Duration)));
    });

    [Fact]
    public void Odd_paths_stay_what_they_are()
    {
        var list = new Playlist(
            "",
            [
                new PlaylistEntry("#1 with mark.flac", "", "", null), new PlaylistEntry("50% louder, really?.flac", "", "", null),
                new PlaylistEntry("/a b/ü&ö.flac", "", "", null)
            ]);
        Assert.Equal(
            ["./#1 with mark.flac", "50% louder, really?.flac", "/a b/ü&ö.flac"],
            PlaylistFormat.M3u8.Read(PlaylistFormat.M3u8.Write(list))!.Entries.Select(entry => entry.Path));
        var locations = XDocument.Parse(PlaylistFormat.Xspf.Write(list))
            .Descendants(XName.Get("location", "http://xspf.org/ns/0/"))
            .Select(location => location.Value);
        Assert.Equal(["%231%20with%20mark.flac", "50%25%20louder%2C%20really%3F.flac", "file:///a%20b/%C3%BC%26%C3%B6.flac"], locations);
    }

    /// <summary>
    /// The shape of the example in the specification of XSPF version 1, from memory, with names of ours: several locations, elements that
    /// are not known, extensions.
    /// </summary>
    [Fact]
    public void Xspf_of_others_is_read()
    {
        var list = PlaylistFormat.ReadAny(
            """
            <?xml version="1.0" encoding="UTF-8"?>
            <playlist version="1" xmlns="http://xspf.org/ns/0/">
              <title>Night in the pit</title>
              <creator>Wickwire</creator>
              <info>http://example.com/~wickwire</info>
              <trackList>
                <track>
                  <location>file:///music/Underlamp/June/03%20Shotfirer.flac</location>
                  <location>http://example.com/shotfirer.mp3</location>
                  <identifier>urn:example:1</identifier>
                  <title>Shotfirer</title>
                  <creator>Slow Carbide</creator>
                  <annotation>&lt;loud&gt;</annotation>
                  <duration>300000</duration>
                  <extension application="http://example.com">
                    <cue xmlns="http://example.com/cue"><title>not this one</title></cue>
                  </extension>
                </track>
                <track><title><![CDATA[Lamp & wick]]></title></track>
                <track/>
              </trackList>
            </playlist>
            """)!;
        Assert.Equal("Night in the pit", list.Title);
        Assert.Equal(
            [
                new PlaylistEntry("/music/Underlamp/June/03 Shotfirer.flac", "Shotfirer", "Slow Carbide", TimeSpan.FromMinutes(5)),
                new PlaylistEntry("", "Lamp & wick", "", null), new PlaylistEntry("", "", "", null)
            ],
            list.Entries);
    }

    [Theory]
    [InlineData("")]
    [InlineData("<html><body>no list</body></html>")]
    [InlineData("<playlist version=\"1\"><trackList/></playlist>")]
    [InlineData(
        "<!DOCTYPE x [<!ENTITY a \"b\">]><playlist "
            + "xmlns=\"http://xspf.org/ns/0/\"><trackList><track><title>&a;</title></track></trackList></playlist>")]
    [InlineData("RIFF\0\0\0\0WAVE")]
    [InlineData("#EXTM3U\n#EXTINF:3,nothing behind it\n")]
    [InlineData("number,artist\n1,nobody\n")]
    public void Invalid_playlist_is_refused(string text) => Assert.Null(PlaylistFormat.ReadAny(text));

    [Fact]
    public void Damaged_lists_give_what_comes_before_the_damage() => Gen.Select(
        Lists, Gen.Double[0, 1], Gen.Int[0, PlaylistFormat.All.Count - 1]).Sample((list, share, kind) =>
    {
        var whole = PlaylistFormat.All[kind].Write(list);
        var read = PlaylistFormat.ReadAny(whole[..(int)(share * whole.Length)]);
        Assert.True(read is null || read.Entries.Count <= list.Entries.Count + 1);
    });

    [Theory]
    [InlineData("/music/Underlamp/June/03 Shotfirer.flac", "", "", null, 2L)]
    [InlineData("/old disk/Underlamp/July/03 shotfirer.flac", "", "", null, 3L)]
    [InlineData("D:\\Music\\Underlamp\\June\\03 Shotfirer.flac", "", "", null, 2L)]
    [InlineData("../June/03 Shotfirer.flac", "", "", null, 2L)]
    [InlineData("03 Shotfirer.flac", "", "", null, null)]
    [InlineData("03 Shotfirer.flac", "", "", 309, 3L)]
    [InlineData("/phone/03 Slatebreaker.mp3", "", "", null, 1L)]
    [InlineData("", "slatebreaker", "the quarry lamps", null, 1L)]
    [InlineData("", "Slatebreaker", "The Quarry Lamps", 180, null)]
    [InlineData("", "Shotfirer", "Slow Carbide", 311, 3L)]
    [InlineData("", "Slatebreaker", "", null, null)]
    [InlineData("gone.flac", "LANTERN, ФОНАРЬ", "Odalys Fenn", 201, 4L)]
    [InlineData("", "", "", 200, null)]
    public void Entries_are_found_by_path_then_by_tags(string path, string title, string artist, int? seconds, long? expected) =>
        Assert.Equal(
            expected,
            new PlaylistMatching(Files).Find(
                new PlaylistEntry(path, title, artist, seconds is { } length ? TimeSpan.FromSeconds(length) : null)));
}
