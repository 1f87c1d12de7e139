using Wergamon.Core.Discs;
using Wergamon.Demo.Music;
using Wergamon.Devices.Catalogue;
using Wergamon.Devices.Drives;

namespace Wergamon.Demo.Rack;

/// <summary>The discs on the rack. All of it is invented.</summary>
internal static class RackAlbums
{
    private const int C = 0, D = 2, E = 4, F = 5, G = 7, A = 9, BFlat = 10;
    private const int FramesPerSecond = AudioDisc.SectorsPerSecond * AudioDisc.FramesPerSector;

    public static IReadOnlyList<RackAlbum> All { get; } =
    [
        new("01-lamp-room", "The Quarry Lamps: Lamp Room", "",
        [
            new("Brass Tally", Play(701, Style.DanceBand, 120, A, true, 17)),
            new("Gas Test", Play(702, Style.DanceBand, 108, C, false, 14)),
            new("Lamp Room Stomp", Play(703, Style.DanceBand, 128, D, true, 19)),
            new("Trimming the Wick", Play(704, Style.DanceBand, 96, G, false, 15)),
        ])
        {
            Artist = "The Quarry Lamps", Title = "Lamp Room", Year = 2022, Genre = "Dance band", Cover = CoverPattern.Lamp,
            IsInCatalogue = true, OtherReadings = 31,
        },
        new("02-counterweight", "The Quarry Lamps: Under the Counterweight", "Something before track 1, and pauses between tracks",
        [
            new("Sheave", Play(711, Style.DanceBand, 112, E, true, 13)),
            new("Headframe", Play(712, Style.DanceBand, 124, F, false, 16)),
            new("Counterweight", Play(713, Style.DanceBand, 100, A, true, 14)),
        ])
        {
            Artist = "The Quarry Lamps", Title = "Under the Counterweight", Year = 2020, Genre = "Dance band", Cover = CoverPattern.Steps,
            Hidden = Play(710, Style.Chamber, 60, D, true, 11), PauseSectors = 150, IsInCatalogue = true, OtherReadings = 6,
        },
        new("03-one-night", "Underlamp: One Night without a Gap", "One piece of music, cut where it goes on",
        [
            new("Doors", Play(721, Style.Club, 126, A, true, 68)),
            new("Midsummer Floor", Play(721, Style.Club, 126, A, true, 68)),
            new("Low Seam", Play(721, Style.Club, 126, A, true, 68)),
            new("Last Lamp Out", Play(721, Style.Club, 126, A, true, 68)),
        ])
        {
            Artist = "Underlamp", Title = "One Night without a Gap", Year = 2025, Genre = "Club", Cover = CoverPattern.Rays,
            IsGapless = true, IsInCatalogue = true, OtherReadings = 12,
        },
        new("04-hauling-songs", "Tin Orchard: Hauling Songs", "Titles and codes on the disc itself",
        [
            new("Rope and Rail", Play(731, Style.Songs, 84, G, false, 14)),
            new("Drum Engine", Play(732, Style.Songs, 92, E, true, 13)),
            new("Brèche aux ardoises", Play(733, Style.Songs, 76, D, false, 17)),
            new("Hooter Song", Play(734, Style.Songs, 100, C, false, 12)),
        ])
        {
            Artist = "Tin Orchard", Title = "Hauling Songs", Year = 2018, Genre = "Songs", HasText = true,
        },
        new("05-spent-lime", "Odalys Fenn: Spent Lime", "Scratched",
        [
            new("Quicklime", Play(741, Style.Electronics, 112, F, true, 18)),
            new("Kiln Glow", Play(742, Style.Electronics, 104, BFlat, true, 16)),
            new("Hairline", Play(743, Style.Electronics, 120, G, true, 20)),
            new("Slaked", Play(744, Style.Electronics, 96, D, false, 15)),
        ])
        {
            Artist = "Odalys Fenn", Title = "Spent Lime", Year = 2024, Genre = "Electronic", Cover = CoverPattern.Horizon,
            IsInCatalogue = true, OtherReadings = 4,
            Faults =
            [
                new(FaultKind.Flaky, 6 * FramesPerSecond, 700) { Share = 0.35 },
                new(FaultKind.Settling, 23 * FramesPerSecond + 9000, 1400) { Tries = 7 },
                new(FaultKind.Flaky, 27 * FramesPerSecond, 260) { Share = 0.45 },
                new(FaultKind.Settling, 29 * FramesPerSecond, 3000) { Tries = 3 },
                new(FaultKind.Never, 45 * FramesPerSecond + 4000, 900),
                new(FaultKind.Flaky, 52 * FramesPerSecond, 500) { Share = 0.3 },
            ],
        },
        new("06-sampler", "Sampler, no name on it", "Several albums have this table of contents",
        [
            new("Slatebreaker, Short", Play(751, Style.DanceBand, 126, D, true, 12)),
            new("Blue Slate Rain, Alone", Play(752, Style.Songs, 76, D, false, 14)),
            new("Acetylene, Edit", Play(753, Style.Electronics, 112, F, true, 13)),
        ])
        {
            Artist = "Various", Title = "Lantern Sampler 3", Year = 2023, Genre = "Sampler", Cover = CoverPattern.Diagonal,
            IsInCatalogue = true, OtherReadings = 3,
            Namesakes =
            [
                new("Winter Words", "Tin Orchard",
                    [new("How the Frost Splits Stone"), new("The Weighing House"), new("Letter to the Deputy")])
                { Year = 2017, Genre = "Spoken word", Confirmed = 4 },
                new(
                    "Three Test Runs of the Ropeway, Recorded from the Lower Terminal to the Upper", "Lantern Quarry Sound Archive",
                    [new("Empty"), new("Half Load"), new("Full Load, with the Brakeman's Remarks")])
                { Year = 2009, Genre = "Field recording", Disc = 2, DiscTotal = 3, Confirmed = 1 },
            ],
        },
        new("07-white-disc", "A white disc without a word on it", "Unknown to the catalogue",
        [
            new("Track 1", Play(761, Style.Songs, 88, C, false, 13)),
            new("Track 2", Play(762, Style.Chamber, 66, A, true, 15)),
            new("Track 3", Play(763, Style.Songs, 104, A, false, 12)),
        ]),
        new("08-ropeway", "Wickwire: Ropeway, with pictures", "A data track behind the sound",
        [
            new("Lower Terminal", Play(771, Style.Club, 122, F, true, 14), "Wickwire"),
            new("Tension Pit", Play(772, Style.Club, 124, A, true, 15), "Wickwire"),
            new("Upper Terminal", Play(773, Style.Club, 118, G, false, 13), "Wickwire & Odalys Fenn"),
        ])
        {
            Artist = "Wickwire", Title = "Ropeway", Year = 2021, Genre = "Club", Cover = CoverPattern.Steps, DataSectors = 300,
            IsInCatalogue = true,
        },
        new("09-long-shift", "Various: The Long Shift", "Half an hour, to see it through",
            [.. LongShift.Select(part => new RackTrack(part.Title, Play(0, Style.Songs, 100, C, false, 0), part.Artist))])
        {
            Artist = "Various", Title = "The Long Shift", Year = 2025, Genre = "Medley", Cover = CoverPattern.Diagonal,
            IsInCatalogue = true, OtherReadings = 2,
            Medley = [.. LongShift.Select(part => part.Discs)],
            Faults = [
                new(FaultKind.Flaky, 330 * FramesPerSecond, 1200) { Share = 0.4 },
                new(FaultKind.Settling, 352 * FramesPerSecond, 800) { Tries = 4 }
            ],
        },
        new("10-nine-gates", "Nine Gate Ensemble: Nine Gates in the Round", "A surround disc",
        [
            new("First Gate, in the Round", Play(801, Style.Chamber, 66, D, true, 15)),
            new("The Flooded Level", Play(802, Style.Chamber, 72, A, true, 12)),
            new("Ninth Gate, All Voices", Play(803, Style.Chamber, 63, C, true, 16)),
        ])
        {
            Artist = "Nine Gate Ensemble", Title = "Nine Gates in the Round", Year = 2023, Genre = "Chamber music",
            Cover = CoverPattern.Horizon, IsInCatalogue = true,
            Surround = [(48_000, false), (96_000, true), (48_000, true)],
        },
    ];

    /// <summary>Albums that the catalogue knows by name only, each with its cover.</summary>
    public static IReadOnlyList<(CatalogueRecord Record, CoverPattern Cover)> KnownByName { get; } =
    [
        (new("Nine Gate Crossing, the Single", "The Quarry Lamps", [new("Nine Gate Crossing")])
            { Year = 2021, Genre = "Dance band", Confirmed = 5, CoverFile = "nine-gate-crossing.jpg" },
            CoverPattern.Rays),
    ];

    /// <summary>Discs whose audio makes up each track of the long one.</summary>
    private static IReadOnlyList<(string Title, string Artist, IReadOnlyList<string> Discs)> LongShift =>
    [
        ("Cage Going Down, All the Way", "The Quarry Lamps", ["01-lamp-room", "02-counterweight", "01-lamp-room", "02-counterweight"]),
        ("Powder Monkey at Length", "Tin Orchard", ["04-hauling-songs", "07-white-disc", "04-hauling-songs"]),
        ("Blue Slate Rain until Noon", "Tin Orchard", ["07-white-disc", "04-hauling-songs", "06-sampler", "04-hauling-songs"]),
        ("Winding House", "Underlamp", ["03-one-night", "03-one-night"]),
        ("The Deputy's Lamp", "Odalys Fenn", ["05-spent-lime", "06-sampler", "05-spent-lime", "05-spent-lime"]),
        ("Overburden, Removed by Hand", "Various", ["06-sampler", "01-lamp-room", "03-one-night", "02-counterweight", "07-white-disc"]),
        ("Tramway No. 3", "The Quarry Lamps", ["02-counterweight", "06-sampler"]),
        ("Snow on the Tip", "Nine Gate Ensemble", ["07-white-disc", "07-white-disc", "02-counterweight"]),
        ("Hooter at Six", "Tin Orchard", ["04-hauling-songs"]),
    ];

    private static Piece Play(ulong seed, Style style, double tempo, int root, bool minor, double seconds) =>
        new(seed, style, tempo, root, minor, seconds, 0.85);
}
