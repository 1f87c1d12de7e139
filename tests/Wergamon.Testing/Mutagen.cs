using System.Diagnostics;
using System.Text.Json.Nodes;

namespace Wergamon.Testing;

/// <summary>Tags as python3-mutagen 1.46 sees and writes them, through Debian's own Python.</summary>
public static class Mutagen
{
    private const string Interpreter = "/usr/bin/python3";

    /// <summary>Frames or fields by name, each a list of strings; pictures under "pictures" as kind, type, description and SHA-256.</summary>
    public static JsonObject Read(string path) => Run(ReadScript, path, "{}");

    /// <summary>Writes tags: "frames" as [id, description, values] for ID3, "fields" for Vorbis comments, "picture" as a path.</summary>
    public static void Write(string path, JsonObject what) => Run(WriteScript, path, what.ToJsonString());

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
        var start = new ProcessStartInfo(Interpreter, ["-c", script, path, argument]) { RedirectStandardOutput = true, RedirectStandardError = true };
        using var process = Process.Start(start)!;
        var errors = process.StandardError.ReadToEndAsync();
        var output = process.StandardOutput.ReadToEnd();
        process.WaitForExit();
        return process.ExitCode == 0 ? JsonNode.Parse(output)!.AsObject() : throw new InvalidOperationException(errors.Result);
    }
}
