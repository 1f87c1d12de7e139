using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Aiff;
using Wergamon.Core.Formats.Flac;
using Wergamon.Core.Formats.Mp3;
using Wergamon.Core.Formats.Wav;
using Wergamon.Core.Tags;
using Wergamon.Demo.Music;

namespace Wergamon.Demo;

/// <summary>Lantern Quarry: a slate-quarry village, its bands and its club night. All of it is invented.</summary>
internal static class LanternQuarry
{
    public const string Label = "Pit Four Recordings";

    private const int C = 0, D = 2, EFlat = 3, E = 4, F = 5, G = 7, AFlat = 8, A = 9, BFlat = 10, B = 11;

    private static readonly SampleRate Rate48 = new(48_000);

    public static IReadOnlyList<DemoAlbum> Albums { get; } =
    [
        new(
            "The Quarry Lamps", "Night Shift at Pit Four", 2021, "Dance band", new FlacSettings(), CoverPattern.Diagonal,
        [
            new("Tallow and Wick", Play(101, Style.DanceBand, 122, A, minor: true, 31, 0.9)),
            new("Nine Gate Crossing", Play(102, Style.DanceBand, 118, C, minor: false, 27, 0.9)),
            new("Slatebreaker", Play(103, Style.DanceBand, 126, D, minor: true, 45, 1.4)),
            new("Carbide Waltz", Play(104, Style.DanceBand, 90, G, minor: false, 28, 0.8)),
            new("Pit Pony Reel", Play(105, Style.DanceBand, 132, E, minor: true, 24, 0.9)),
            new("Last Shift Lamp-out", Play(106, Style.DanceBand, 100, F, minor: false, 33, 0.85)),
        ]),
        new(
            "Nine Gate Ensemble", "Live in the Slate Cavern", 2023, "Chamber music", new FlacSettings(), CoverPattern.Horizon,
        [
            new("Cavern Air, First Gate", Play(201, Style.Chamber, 66, D, minor: true, 36, 0.7)),
            new("Dripstone", Play(202, Style.Chamber, 60, EFlat, minor: false, 30, 0.45)),
            new(
                "The Long Adit, in Which the Water Is Heard before It Is Seen and Counted by the Drop",
                Play(203, Style.Chamber, 72, A, minor: true, 38, 0.8)),
            new("Ninth Gate", Play(204, Style.Chamber, 63, C, minor: true, 32, 0.9)),
            new("Ninth Gate, in the Round", Play(204, Style.Chamber, 63, C, minor: true, 32, 0.9), Channels: 6),
        ])
        { Bits = 24, Rate = Rate48 },
        new("Odalys Fenn", "Carbide", 2024, "Electronic", new WavSettings(), CoverPattern.Rays,
        [
            new("Acetylene", Play(301, Style.Electronics, 112, F, minor: true, 26, 1.2)),
            new("Seam of Light", Play(302, Style.Electronics, 104, BFlat, minor: true, 28, 1.0)),
            new("Calcium", Play(303, Style.Electronics, 120, G, minor: true, 22, 1.3)),
            new("Hiss and Bloom", Play(304, Style.Electronics, 96, D, minor: false, 27, 0.8)),
            new("Spent Lime", Play(305, Style.Electronics, 108, A, minor: true, 30, 1.1)),
        ])
        { IsTagged = false },
        new(
            "Tin Orchard", "Songs from the Winding House", 2019, "Songs", Mp3Settings.Constant(192), CoverPattern.Lamp,
        [
            new("Cage Going Down", Play(401, Style.Songs, 84, G, minor: false, 29, 0.8))
            {
                Untidy = (
                    FieldNames.Comment, "Recorded in Lantern Quarry. Downloaded from cheap-tunes.example, visit www.cheap-tunes.example")
            },
            new("Powder Monkey", Play(402, Style.Songs, 96, E, minor: true, 25, 0.8)) { Untidy = (FieldNames.Artist, "TIN ORCHARD") },
            new("Blue Slate Rain", Play(403, Style.Songs, 76, D, minor: false, 34, 0.7)) { Untidy = (FieldNames.Year, "2018") },
            new(
                "Winding House", Play(404, Style.Songs, 88, C, minor: false, 22, 0.85))
                { Untidy = (FieldNames.Comment, "EnregistrÃ© prÃ¨s de la carriÃ¨re") },
            new("Hooter at Six", Play(405, Style.Songs, 104, A, minor: false, 21, 0.9)) { Untidy = (FieldNames.Genre, "songs") },
        ]),
        new(
            "Underlamp", "Underlamp Club, June", 2025, "Club", new AiffSettings(), CoverPattern.Steps,
        [
            new("Lantern, фонарь, 灯火", Play(501, Style.Club, 124, A, minor: true, 32, 1.8), "Odalys Fenn"),
            new("Midsummer in the Old Pit", Play(502, Style.Club, 126, E, minor: true, 30, 2.0), "Wickwire"),
            new("Shotfirer", Play(503, Style.Club, 128, B, minor: true, 31, 2.2), "Slow Carbide"),
            new("Overburden", Play(504, Style.Club, 122, F, minor: true, 29, 1.6), "The Quarry Lamps & Odalys Fenn"),
            new("Gangway at Dawn", Play(505, Style.Club, 118, AFlat, minor: false, 34, 1.2), "Wickwire"),
        ]),
        // A download that is not what it says.
        new("Wickwire", "Firedamp", 2025, "Club", new FlacSettings(), CoverPattern.Rays,
        [
            new("Firedamp", Play(601, Style.Club, 120, C, minor: true, 28, 1.5)),
        ])
        {
            Ancestor = Mp3Settings.Constant(128),
        },
    ];

    /// <summary>What an old laptop held.</summary>
    public static IReadOnlyList<DemoDuplicate> Duplicates { get; } =
    [
        new("Old laptop/Night Shift at Pit Four/03 Slatebreaker.flac", Albums[0], 2, new FlacSettings()),
        new("Old laptop/Desktop/slatebreaker last take.wav", Albums[0], 2, new WavSettings(), IsTagged: false),
        new("Old laptop/Music/Tallow and Wick.mp3", Albums[0], 0, Mp3Settings.Constant(192)),
        new("Old laptop/For the car/01 Tallow and Wick.mp3", Albums[0], 0, Mp3Settings.Constant(96)),
        new("Old laptop/Singles/Nine Gate Crossing.flac", Albums[0], 1, new FlacSettings(), Single: "Nine Gate Crossing, the Single"),
    ];

    private static Piece Play(ulong seed, Style style, double tempo, int root, bool minor, double seconds, double loudness) =>
        new(seed, style, tempo, root, minor, seconds, loudness);
}
