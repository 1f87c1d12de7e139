using System.Globalization;
using Wergamon.Core.Bytes;

namespace Wergamon.Core.Discs;

/// <summary>Reads cue sheets. Lines that it cannot use are skipped and reported.</summary>
public sealed class CueSheetReader
{
    /// <summary>Far more than 99 tracks with 99 indexes need.</summary>
    private const int MaxLines = 20_000;

    /// <summary>Of the disc, and of each track.</summary>
    private const int MaxRemarks = 200;

    private readonly List<string> _complaints = [];
    private readonly List<CueFile> _files = [];
    private readonly List<CueTrack> _tracks = [];
    private CueSheet _sheet = new();
    private CueTrack? _track;
    private int _session = 1;
    private int _line;

    private CueSheetReader() { }

    /// <summary>Text in UTF-8, or in Latin-1 where it is not valid UTF-8.</summary>
    public static CueReading Read(ReadOnlySpan<byte> bytes) => Read(LenientText.ReadAll(bytes).TrimStart('\uFEFF'));

    public static CueReading Read(string text)
    {
        var reader = new CueSheetReader();
        foreach (var line in WellFormedText.From(text).Split('\n').Take(MaxLines))
            reader.Take(line);
        reader.EndTrack();
        return new CueReading(reader._sheet with { Files = reader._files, Tracks = reader._tracks }, reader._complaints);
    }

    private void Take(string line)
    {
        _line++;
        var trimmed = line.Trim();
        if (trimmed.Length == 0)
            return;
        int blank = trimmed.IndexOfAny([' ', '\t']);
        var command = (blank < 0 ? trimmed : trimmed[..blank]).ToUpperInvariant();
        var rest = blank < 0 ? "" : trimmed[(blank + 1)..].Trim();
        switch (command)
        {
            case "REM" when Sessions.OpenedBy(rest) is { } session:
                // It precedes the track that opens the session, often even its FILE.
                _session = Math.Max(_session, session);
                break;
            case "REM":
                Set(
                    sheet => sheet with { Remarks = WithRemark(sheet.Remarks, rest) },
                    track => track with { Remarks = WithRemark(track.Remarks, rest) });
                break;
            case "TITLE":
                Set(sheet => sheet with { Title = Text(rest) }, track => track with { Title = Text(rest) });
                break;
            case "PERFORMER":
                Set(sheet => sheet with { Performer = Text(rest) }, track => track with { Performer = Text(rest) });
                break;
            case "SONGWRITER":
                Set(sheet => sheet with { Songwriter = Text(rest) }, track => track with { Songwriter = Text(rest) });
                break;
            case "CATALOG":
                _sheet = _sheet with { CatalogueNumber = Text(rest) };
                break;
            case "CDTEXTFILE":
                _sheet = _sheet with { DiscTextFile = Text(rest) };
                break;
            case "FILE":
                TakeFile(rest);
                break;
            case "TRACK":
                TakeTrack(rest);
                break;
            case "INDEX":
                TakeIndex(rest);
                break;
            case "FLAGS":
                OnTrack(command, track => track with { Flags = Words(rest) });
                break;
            case "ISRC":
                OnTrack(command, track => track with { Isrc = Text(rest) });
                break;
            case "PREGAP" or "POSTGAP":
                TakeGap(command, rest);
                break;
            default:
                Complain($"{command} is an unknown command");
                break;
        }
    }

    private void TakeFile(string rest)
    {
        if (_files.Count >= AudioDisc.MaxTracks * 2)
        {
            Complain("there are more files than a disc has tracks and pauses");
            return;
        }

        int end = rest.StartsWith('"') ? rest.IndexOf('"', 1) : rest.LastIndexOf(' ') - 1;
        if (end < 0)
        {
            Complain("FILE needs a name and a kind");
            return;
        }

        var kind = rest[(end + 1)..].Trim();
        _files.Add(new CueFile(rest[..(end + 1)].Trim().Trim('"'), kind.Length == 0 ? "BINARY" : kind.ToUpperInvariant()));
    }

    private void TakeTrack(string rest)
    {
        EndTrack();
        var words = Words(rest);
        if (words.Count < 2 || !int.TryParse(words[0], NumberStyles.None, CultureInfo.InvariantCulture, out int number)
            || number is < 1 or > AudioDisc.MaxTracks)
        {
            Complain("TRACK needs a number from 1 to 99 and a kind");
            return;
        }

        _track = new CueTrack(number, words[1].ToUpperInvariant()) { Session = _session };
    }

    private void TakeIndex(string rest)
    {
        var words = Words(rest);
        if (words.Count != 2 || !int.TryParse(words[0], NumberStyles.None, CultureInfo.InvariantCulture, out int number) || number > 99
            || Msf.TryParse(words[1]) is not { } time)
            Complain("INDEX needs a number and a time MM:SS:FF");
        else if (_files.Count == 0)
            Complain("INDEX before any FILE");
        else
            OnTrack("INDEX", track => track with { Indexes = [.. track.Indexes, new CueIndex(number, _files.Count - 1, time)] });
    }

    private void TakeGap(string command, string rest)
    {
        if (Msf.TryParse(rest) is not { } length)
            Complain($"{command} needs a time MM:SS:FF");
        else
            OnTrack(command, track => command == "PREGAP" ? track with { Pregap = length } : track with { Postgap = length });
    }

    private void Set(Func<CueSheet, CueSheet> onSheet, Func<CueTrack, CueTrack> onTrack)
    {
        if (_track is null)
            _sheet = onSheet(_sheet);
        else
            _track = onTrack(_track);
    }

    private void OnTrack(string command, Func<CueTrack, CueTrack> change)
    {
        if (_track is null)
            Complain($"{command} before any TRACK");
        else
            _track = change(_track);
    }

    private void EndTrack()
    {
        if (_track is not null)
            _tracks.Add(_track);
        _track = null;
    }

    private void Complain(string what) => _complaints.Add(string.Create(CultureInfo.InvariantCulture, $"Line {_line}: {what}."));

    private static IReadOnlyList<string> WithRemark(IReadOnlyList<string> remarks, string rest) =>
        remarks.Count < MaxRemarks ? [.. remarks, rest] : remarks;

    private static string? Text(string rest) =>
        rest.Length >= 2 && rest[0] == '"' && rest[^1] == '"' ? rest[1..^1] : rest.Length == 0 ? null : rest.Trim('"');

    private static List<string> Words(string rest) => [.. rest.Split([' ', '\t'], StringSplitOptions.RemoveEmptyEntries)];
}
