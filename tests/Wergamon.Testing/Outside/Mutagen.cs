using System.Diagnostics;
using System.Text.Json.Nodes;

namespace Wergamon.Testing.Outside;

/// <summary>Tags as python3-mutagen 1.46 sees and writes them, through Debian's own Python.</summary>
public static class Mutagen
{
    private const string Interpreter = "/usr/bin/python3";

    /// <summary>
    /// Frames or fields by name, each a list of strings; pictures under "pictures" as kind, type, description and SHA-256.
    /// </summary>
    public static JsonObject Read(string path) => Run(ReadScript, path, "{}");

    /// <summary>Writes tags: "frames" as [id, description, values] for ID3, "fields" for Vorbis comments, "picture" as a path.</summary>
    public static void Write(string path, JsonObject what) => Run(WriteScript, path, what.ToJsonString());

    /// <summary>Audio properties as mutagen reads them: seconds, rate, channels, and bits where the format has them.</summary>
    public static JsonObject Facts(string path) => Run(FactsScript, path, "{}");

    /// <summary>
    /// Writes fields by the names that mutagen gives to all dialects ("title", "tracknumber"), and a JPEG as the front cover.
    /// </summary>
    public static void WriteEasy(string path, JsonObject fields, string coverPath) =>
        Run(EasyScript, path, new JsonObject { ["fields"] = fields.DeepClone(), ["cover"] = coverPath }.ToJsonString());

    /// <summary>The fields of any format by one set of names, each a list of strings; "pictures" has the SHA-256 of each.</summary>
    public static JsonObject ReadAny(string path) => Run(AnyScript, path, "{}");

    /// <summary>Adds an APE tag with a field and an item of its own, and an ID3v1 tag, to an MP3 file.</summary>
    public static void AddOldDialects(string path) => Run(OldScript, path, "{}");

    /// <summary>The items of an APE tag; a binary one in hexadecimal.</summary>
    public static JsonObject ReadApe(string path) => Run(ApeScript, path, "{}");

    /// <summary>All that a file's own keys hold, each a list of strings: frames by identifier, chapters with time and title.</summary>
    public static JsonObject ReadKeys(string path) => Run(KeysScript, path, "{}");

    /// <summary>Adds attributes of every type to an ASF file, and gives them as <see cref="ReadTypedAttributes"/> does.</summary>
    public static JsonObject WriteTypedAttributes(string path) => Run(TypedScript, path, "true");

    /// <summary>The attributes that <see cref="WriteTypedAttributes"/> added, each with its type.</summary>
    public static JsonObject ReadTypedAttributes(string path) => Run(TypedScript, path, "false");

    private const string TypedScript =
        """
        import sys, json
        from mutagen import asf
        m = asf.ASF(sys.argv[1])
        if sys.argv[2] == 'true':
            m['Lamp/Number'] = asf.ASFDWordAttribute(7); m['Lamp/Long'] = asf.ASFQWordAttribute(5000000000);
            m['Lamp/Short'] = asf.ASFWordAttribute(9)
            m['Lamp/On'] = asf.ASFBoolAttribute(True); m['Lamp/Off'] = asf.ASFBoolAttribute(False);
            m['Lamp/Guid'] = asf.ASFGUIDAttribute(bytes(range(16)))
            m['WM/TrackNumber'] = asf.ASFDWordAttribute(3)
            m.save(); m = asf.ASF(sys.argv[1])
        print(json.dumps({k: [[v.TYPE, str(v)] for v in m[k]] for k in sorted(m.keys()) if k.startswith('Lamp/') or k == 'WM/TrackNumber'}))
        """;

    private const string KeysScript =
        """
        import sys, json, mutagen
        from mutagen.id3 import ID3
        m = mutagen.File(sys.argv[1]); out = {}
        def put(key, values): out.setdefault(key, []).extend(v.decode() if isinstance(v, bytes) else str(v) for v in values)
        if isinstance(m.tags, ID3):
            for frame in ID3(sys.argv[1], translate=False).values():
                key = frame.FrameID
                if key == 'TXXX': put('TXXX:' + frame.desc.lower(), frame.text)
                elif key == 'POPM': put(key, [frame.rating])
                elif key == 'SYLT': put(key, [f'{t} {w}' for w, t in frame.text])
                elif key == 'CHAP': put(key, [f'{frame.start_time} {frame.sub_frames.getall("TIT2")[0].text[0]}'])
                elif key == 'CTOC': put(key, frame.child_element_ids)
                elif hasattr(frame, 'text'): put(key, frame.text if isinstance(frame.text, list) else [frame.text])
                elif hasattr(frame, 'url'): put(key, [frame.url])
        else:
            for key, value in (m.tags.items() if hasattr(m.tags, 'items') else m.tags):
                values = value if isinstance(value, list) else [value] if isinstance(value, bool) or not hasattr(value,
                    '__iter__') else list(value)
                put(key.replace('com.apple.iTunes:', '').upper() if key.startswith('----') or not key[0] == '\xa9' else key,
                    [x for v in values for x in (v if isinstance(v, tuple) else [v])])
            # mutagen takes the time scale of the movie for that of the list, which is always 100 ns.
            for chapter in getattr(m, 'chapters', None) or []: put('CHPL',
                [f'{round(chapter.start * m.chapters._timescale)} {chapter.title}'])
        print(json.dumps(out))
        """;

    private const string OldScript =
        """
        import sys
        from mutagen import apev2
        from mutagen.id3 import ID3
        t = apev2.APEv2(); t['Title'] = 'Blue Slate Rain'; t['REPLAYGAIN_TRACK_GAIN'] = '-7.5 dB';
        t['Lamp mark'] = apev2.APEValue(b'\x00\xffA', apev2.BINARY)
        t.save(sys.argv[1])
        m = ID3(sys.argv[1]); m.save(v1=2, v2_version=3)
        print('{}')
        """;

    private const string ApeScript =
        """
        import sys, json
        from mutagen import apev2
        t = apev2.APEv2(sys.argv[1])
        print(json.dumps({k: v.value.hex() if v.kind == apev2.BINARY else str(v) for k, v in t.items()}))
        """;

    private const string AnyScript =
        """
        import sys, json, base64, hashlib, mutagen
        from mutagen import mp4, asf
        from mutagen.id3 import ID3
        from mutagen.flac import FLAC, Picture
        m = mutagen.File(sys.argv[1]); t = m.tags
        names = ['title', 'artist', 'albumartist', 'album', 'date', 'genre', 'comment', 'lyrics', 'bpm', 'tracknumber', 'tracktotal',
            'discnumber', 'disctotal', 'lamp keeper']
        out, pictures = {}, []
        def put(name, values):
            if values: out[name] = [v.decode() if isinstance(v, bytes) else str(v) for v in values]
        if isinstance(t, ID3):
            ids = ['TIT2', 'TPE1', 'TPE2', 'TALB', 'TDRC', 'TCON', 'COMM::eng', 'USLT::eng', 'TBPM', None, None, None, None,
                'TXXX:Lamp keeper']
            for name, key in zip(names, ids):
                if key in t: put(name, t[key].text if isinstance(t[key].text, list) else [t[key].text])
            for key, number, total in (('TRCK', 'tracknumber', 'tracktotal'), ('TPOS', 'discnumber', 'disctotal')):
                if key in t: put(number, [t[key].text[0].split('/')[0]]); put(total, t[key].text[0].split('/')[1:])
            pictures = [f.data for f in t.getall('APIC')]
        elif isinstance(m, mp4.MP4):
            ids = ['\xa9nam', '\xa9ART', 'aART', '\xa9alb', '\xa9day', '\xa9gen', '\xa9cmt', '\xa9lyr', 'tmpo', None, None, None, None,
                '----:com.apple.iTunes:Lamp keeper']
            for name, key in zip(names, ids): put(name, t.get(key) if key else None)
            for key, number, total in (('trkn', 'tracknumber', 'tracktotal'), ('disk', 'discnumber', 'disctotal')):
                if key in t: put(number, t[key][0][:1]); put(total, t[key][0][1:])
            pictures = [bytes(c) for c in t.get('covr', [])]
        elif isinstance(m, asf.ASF):
            ids = ['Title', 'Author', 'WM/AlbumArtist', 'WM/AlbumTitle', 'WM/Year', 'WM/Genre', 'Description', 'WM/Lyrics',
                'WM/BeatsPerMinute', 'WM/TrackNumber', 'TRACKTOTAL', None, None, 'Lamp keeper']
            for name, key in zip(names, ids): put(name, [str(v) for v in t.get(key, [])] if key else None)
            if 'WM/PartOfSet' in t: put('discnumber', [str(t['WM/PartOfSet'][0]).split('/')[0]]); put('disctotal',
                str(t['WM/PartOfSet'][0]).split('/')[1:])
            for p in t.get('WM/Picture', []):
                v = p.value; n = int.from_bytes(v[1:5], 'little'); pictures.append(v[len(v) - n:])
        else:
            for name in names: put(name, t.get(name))
            pictures = [p.data for p in m.pictures] if isinstance(m, FLAC) else [Picture(base64.b64decode(b)).data
                for b in t.get('metadata_block_picture', [])]
        out['pictures'] = [hashlib.sha256(p).hexdigest() for p in pictures]
        out['length'] = m.info.length
        print(json.dumps(out))
        """;

    private const string FactsScript =
        """
        import sys, json, mutagen
        i = mutagen.File(sys.argv[1]).info
        print(json.dumps({n: getattr(i, n) for n in ('length', 'sample_rate', 'channels', 'bits_per_sample', 'bitrate') if hasattr(i, n)}))
        """;

    private const string EasyScript =
        """
        import sys, json, base64, mutagen
        from mutagen import mp4, asf, apev2, id3
        from mutagen.flac import Picture
        what = json.loads(sys.argv[2]); fields = what['fields']; data = open(what['cover'], 'rb').read()
        m = mutagen.File(sys.argv[1])
        if m.tags is None: m.add_tags()
        t = m.tags
        if isinstance(m, mp4.MP4):
            names = {'title': '\xa9nam', 'artist': '\xa9ART', 'albumartist': 'aART', 'album': '\xa9alb', 'date': '\xa9day',
                'genre': '\xa9gen', 'composer': '\xa9wrt', 'comment': '\xa9cmt'}
            for k, v in names.items(): t[v] = fields[k]
            t['trkn'] = [(3, 9)]; t['disk'] = [(1, 2)]; t['tmpo'] = [76]; t['cpil'] = True
            t['----:village.lantern:LAMP KEEPER'] = ['灯'.encode()]
            t['covr'] = [mp4.MP4Cover(data, mp4.MP4Cover.FORMAT_JPEG)]
        elif isinstance(m, asf.ASF):
            names = {'title': 'Title', 'artist': 'Author', 'albumartist': 'WM/AlbumArtist', 'album': 'WM/AlbumTitle', 'date': 'WM/Year',
                'genre': 'WM/Genre', 'composer': 'WM/Composer', 'comment': 'Description'}
            for k, v in names.items(): t[v] = fields[k]
            t['WM/TrackNumber'] = 3; t['WM/PartOfSet'] = '1/2'; t['WM/BeatsPerMinute'] = '76'; t['WM/IsCompilation'] = True
            picture = bytes([3]) + len(data).to_bytes(4, 'little') + 'image/jpeg\0'.encode('utf-16-le') + '\0'.encode('utf-16-le') + data
            t['WM/Picture'] = asf.ASFByteArrayAttribute(picture)
        elif isinstance(t, id3.ID3):
            names = {'title': id3.TIT2, 'artist': id3.TPE1, 'albumartist': id3.TPE2, 'album': id3.TALB, 'date': id3.TDRC, 'genre': id3.TCON,
                'composer': id3.TCOM}
            for k, v in names.items(): t.add(v(encoding=3, text=[fields[k]]))
            t.add(id3.COMM(encoding=3, lang='eng', desc='', text=[fields['comment']])); t.add(id3.TRCK(encoding=3, text=['3/9']));
            t.add(id3.TPOS(encoding=3, text=['1/2']))
            t.add(id3.TBPM(encoding=3, text=['76'])); t.add(id3.TXXX(encoding=3, desc='LAMP KEEPER', text=['灯']));
            t.add(id3.APIC(encoding=3, mime='image/jpeg', type=3, desc='', data=data))
        elif isinstance(t, apev2.APEv2):
            names = {'title': 'Title', 'artist': 'Artist', 'albumartist': 'Album Artist', 'album': 'Album', 'date': 'Year',
                'genre': 'Genre', 'composer': 'Composer', 'comment': 'Comment'}
            for k, v in names.items(): t[v] = fields[k]
            t['Track'] = '3/9'; t['Disc'] = '1/2'; t['BPM'] = '76'; t['Compilation'] = '1'; t['LAMP KEEPER'] = '灯'
            t['Cover Art (Front)'] = apev2.APEValue(b'front.jpg\0' + data, apev2.BINARY)
        else:
            for k, v in fields.items(): t[k] = v
            t['tracknumber'] = '3/9'; t['discnumber'] = '1/2'; t['bpm'] = '76'; t['compilation'] = '1'; t['lamp keeper'] = '灯'
            p = Picture(); p.type = 3; p.mime = 'image/jpeg'; p.data = data
            t['metadata_block_picture'] = [base64.b64encode(p.write()).decode()]
        m.save()
        print('{}')
        """;

    private const string ReadScript =
        """
        import sys, json, hashlib, mutagen
        from mutagen.id3 import ID3
        m = mutagen.File(sys.argv[1])
        out, pictures = {}, []
        def picture(p): pictures.append([int(p.type), p.mime, p.desc, hashlib.sha256(p.data).hexdigest()])
        if isinstance(m.tags, ID3):
            for key, frame in m.tags.items():
                if frame.FrameID == 'APIC': picture(frame)
                elif hasattr(frame, 'text'): out[key] = [str(t) for t in frame.text] if isinstance(frame.text, list) else [str(frame.text)]
                elif hasattr(frame, 'url'): out[key] = [frame.url]
                elif hasattr(frame, 'data'): out[key] = [frame.data.hex()]
        elif m.tags is not None:
            for key, value in m.tags: out.setdefault(key.upper(), []).append(value)
            for p in m.pictures: picture(p)
        out['pictures'] = pictures
        out['length'] = m.info.length
        print(json.dumps(out))
        """;

    private const string WriteScript =
        """
        import sys, json, mutagen
        from mutagen import id3
        from mutagen.flac import Picture
        what = json.loads(sys.argv[2])
        m = mutagen.File(sys.argv[1])
        data = open(what['picture'], 'rb').read() if 'picture' in what else None
        if 'fields' in what:
            if m.tags is None: m.add_tags()
            for key, values in what['fields'].items(): m.tags[key] = values
            if data:
                p = Picture(); p.type = 3; p.mime = 'image/png'; p.desc = 'Vorderseite ä'; p.data = data; m.add_picture(p)
            m.save()
        else:
            if m.tags is None: m.add_tags()
            for frame, description, values in what['frames']:
                kind = getattr(id3, frame)
                encoding = what['encoding']
                if frame in ('TXXX',): m.tags.add(kind(encoding=encoding, desc=description, text=values))
                elif frame in ('COMM', 'USLT'): m.tags.add(kind(encoding=encoding, lang='eng', desc=description, text=values[0]))
                elif frame == 'WXXX': m.tags.add(kind(encoding=encoding, desc=description, url=values[0]))
                elif frame == 'POPM': m.tags.add(kind(email=description, rating=int(values[0]), count=3))
                else: m.tags.add(kind(encoding=encoding, text=values))
            if data: m.tags.add(id3.APIC(encoding=encoding, mime='image/png', type=3, desc='Vorderseite ä', data=data))
            if what['version'] == 3: m.tags.update_to_v23()
            m.save(v2_version=what['version']) if what['version'] == 4 else m.save(v2_version=3, v23_sep=None)
        print('{}')
        """;

    private static JsonObject Run(string script, string path, string argument)
    {
        var start = new ProcessStartInfo(Interpreter, ["-c", script, path, argument])
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true
        };
        using var process = Process.Start(start)!;
        var errors = process.StandardError.ReadToEndAsync();
        var output = process.StandardOutput.ReadToEnd();
        process.WaitForExit();
        return process.ExitCode == 0 ? JsonNode.Parse(output)!.AsObject() : throw new InvalidOperationException(errors.Result);
    }
}
