using Wergamon.Core.Naming;

namespace Wergamon.Core.Tests.Naming;

/// <summary>The first proposal for names of every habit; all names are invented.</summary>
public sealed class PatternGuessTests
{
    /// <summary>Names of one selection, separated by bars, and the pattern that a person would write.</summary>
    private static readonly (string Names, string Expected)[] Habits =
    [
        ("01 Acetylene|02 Seam of Light|03 Calcium", "{track} {title}"),
        ("01 Acetylene", "{track} {title}"),
        ("1 Acetylene|2 Calcium|10 Spent Lime", "{track} {title}"),
        ("01. Acetylene|02. Seam of Light", "{track}. {title}"),
        ("01.Acetylene|02.Seam of Light", "{track}.{title}"),
        ("01 - Acetylene|02 - Seam of Light", "{track} - {title}"),
        ("01-Acetylene|02-Calcium", "{track}-{title}"),
        ("01_Acetylene|02_Seam_of_Light", "{track} {title}"),
        ("01_-_Acetylene|02_-_Seam_of_Light", "{track} - {title}"),
        ("[01] Acetylene|[02] Calcium", "[{track}] {title}"),
        ("(01) Acetylene|(02) Calcium", "({track}) {title}"),
        ("Track 01 Acetylene|Track 02 Calcium", "Track {track} {title}"),
        ("001 Acetylene|002 Calcium|113 Lime", "{track} {title}"),
        ("Odalys Fenn - Acetylene|Odalys Fenn - Calcium", "{artist} - {title}"),
        ("Odalys Fenn - Acetylene", "{artist} - {title}"),
        ("Odalys Fenn - Acetylene|Tin Orchard - Rain|Wickwire - Lamp", "{artist} - {title}"),
        ("Acetylene - Odalys Fenn|Calcium - Odalys Fenn|Spent Lime - Odalys Fenn", "{title} - {artist}"),
        ("odalys_fenn-acetylene|odalys_fenn-calcium", "{artist}-{title}"),
        ("odalys_fenn_-_acetylene|odalys_fenn_-_calcium", "{artist} - {title}"),
        ("odalys-acetylene|odalys-calcium", "{artist}-{title}"),
        ("Odalys Fenn – Acetylene|Odalys Fenn – Calcium", "{artist} – {title}"),
        ("Odalys Fenn — Acetylene|Odalys Fenn — Calcium", "{artist} — {title}"),
        ("Odalys Fenn ~ Acetylene|Odalys Fenn ~ Calcium", "{artist} ~ {title}"),
        ("Odalys Fenn - Carbide - 01 Acetylene|Odalys Fenn - Carbide - 02 Calcium", "{artist} - {album} - {track} {title}"),
        ("Odalys Fenn - Carbide - 01 - Acetylene|Odalys Fenn - Carbide - 02 - Calcium", "{artist} - {album} - {track} - {title}"),
        ("Odalys Fenn - Carbide - 01. Acetylene|Odalys Fenn - Carbide - 02. Calcium", "{artist} - {album} - {track}. {title}"),
        ("Odalys Fenn - Carbide - Acetylene|Odalys Fenn - Carbide - Calcium", "{artist} - {album} - {title}"),
        ("Odalys Fenn - Carbide - 01 Acetylene", "{artist} - {album} - {track} {title}"),
        ("Odalys Fenn - 01 - Acetylene|Odalys Fenn - 02 - Calcium", "{artist} - {track} - {title}"),
        ("Carbide - 01 Acetylene|Carbide - 02 Calcium", "{album} - {track} {title}"),
        ("01 - Odalys Fenn - Acetylene|02 - Tin Orchard - Rain", "{track} - {artist} - {title}"),
        ("01 Odalys Fenn - Acetylene|02 Tin Orchard - Rain", "{track} {artist} - {title}"),
        ("01. Odalys Fenn - Acetylene|02. Tin Orchard - Rain", "{track}. {artist} - {title}"),
        ("01-odalys_fenn-acetylene|02-tin_orchard-rain", "{track}-{artist}-{title}"),
        ("01-odalys_fenn-carbide-acetylene|02-odalys_fenn-carbide-calcium", "{track}-{artist}-{album}-{title}"),
        ("odalys_fenn-carbide-01-acetylene|odalys_fenn-carbide-02-calcium", "{artist}-{album}-{track}-{title}"),
        ("1-01 Acetylene|1-02 Calcium|2-01 Lime", "{disc}-{track} {title}"),
        ("1.01 Acetylene|1.02 Calcium|2.01 Lime", "{disc}.{track} {title}"),
        ("1-01 - Acetylene|2-01 - Lime", "{disc}-{track} - {title}"),
        ("Odalys Fenn - Carbide - 2024 - 01 - Acetylene|Odalys Fenn - Carbide - 2024 - 02 - Calcium",
            "{artist} - {album} - {year} - {track} - {title}"),
        ("2024 - Odalys Fenn - Acetylene|2023 - Tin Orchard - Rain", "{year} - {artist} - {title}"),
        ("Odalys Fenn - 2024 - Carbide - 01 - Acetylene|Odalys Fenn - 2024 - Carbide - 02 - Calcium",
            "{artist} - {year} - {album} - {track} - {title}"),
        ("Seam of Light (Tin Orchard remix)|Calcium (Wickwire remix)", "{title} ({remixer} remix)"),
        ("01 Seam of Light (Tin Orchard Remix)|02 Calcium (Wickwire Remix)", "{track} {title} ({remixer} remix)"),
        ("Odalys Fenn - Seam of Light (Tin Orchard remix)|Odalys Fenn - Calcium (Wickwire remix)", "{artist} - {title} ({remixer} remix)"),
        ("Odalys Fenn - Seam (feat. Wickwire - live)|Odalys Fenn - Calcium", "{artist} - {title}"),
        ("Odalys Fenn - Acetylene - 128|Tin Orchard - Rain - 76", "{artist} - {title} - {tempo}"),
        ("01 Odalys Fenn - Acetylene - 128|02 Tin Orchard - Rain - 76", "{track} {artist} - {title} - {tempo}"),
        ("Odalys Fenn - Acetylene - 128 bpm|Tin Orchard - Rain - 76 bpm", "{artist} - {title} - {tempo} bpm"),
        ("Acetylene|Calcium|Spent Lime", "{title}"),
        ("Morning rehearsal|Jam in the shed", "{title}"),
        ("фонарь|ночь", "{title}"),
        ("01 фонарь|02 ночь", "{track} {title}"),
        ("灯 - 石|灯 - 雨", "{artist} - {title}"),
        ("Odalys Fenn - Carbide (2024)/01 Acetylene|Odalys Fenn - Carbide (2024)/02 Calcium",
            "{album artist} - {album} ({year})/{track} {title}"),
        ("Odalys Fenn - Carbide/01 Acetylene|Odalys Fenn - Carbide/02 Calcium", "{album artist} - {album}/{track} {title}"),
        ("Odalys Fenn/2024 - Carbide/01 Acetylene|Odalys Fenn/2024 - Carbide/02 Calcium", "{year} - {album}/{track} {title}"),
        ("Carbide (2024)/01 Acetylene|Carbide (2024)/02 Calcium", "{album} ({year})/{track} {title}"),
        ("2024 - Odalys Fenn - Carbide/01 - Acetylene|2024 - Odalys Fenn - Carbide/02 - Calcium",
            "{year} - {album artist} - {album}/{track} - {title}"),
        ("Odalys Fenn - 2024 - Carbide/01 Acetylene|Odalys Fenn - 2024 - Carbide/02 Calcium",
            "{album artist} - {year} - {album}/{track} {title}"),
        ("Carbide/01 Acetylene|Carbide/02 Calcium", "{track} {title}"),
        ("Mixes/Odalys Fenn - Acetylene|Mixes/Tin Orchard - Rain", "{artist} - {title}"),
        ("01 Lamp, Oil & Wick|02 Don't Look Down", "{track} {title}"),
        ("01 Half-past Nine|02 Low-water Mark", "{track} {title}"),
        ("Odalys Fenn - Half-past Nine|Odalys Fenn - Low-water Mark", "{artist} - {title}"),
        ("01 99 Lanterns|02 100 Steps", "{track} {title}"),
        ("Nine Gate Ensemble - Cavern, Part 1|Nine Gate Ensemble - Cavern, Part 2", "{artist} - {title}"),
    ];

    [Fact]
    public void The_first_proposal_is_right_for_nearly_all_habits()
    {
        const double Wanted = 0.9;
        var wrong = new List<string>();
        foreach (var (names, expected) in Habits)
        {
            var proposals = PatternGuess.For(names.Split('|'));
            if (proposals[0].Pattern.Text != expected)
                wrong.Add($"{names}: {proposals[0].Pattern.Text}, not {expected}");
        }

        Assert.True(Habits.Length >= 60);
        Assert.True(wrong.Count <= (1 - Wanted) * Habits.Length, string.Join('\n', wrong));
    }

    [Fact]
    public void A_proposal_counts_the_names_it_explains()
    {
        var proposals = PatternGuess.For(
            ["Odalys Fenn - Carbide - 01 Acetylene", "Odalys Fenn - Carbide - 02 Calcium", "odalys_fenn-spent_lime-FINAL2"]);
        Assert.Equal(("{artist} - {album} - {track} {title}", 2), (proposals[0].Pattern.Text, proposals[0].Fits));
        Assert.Contains(proposals, proposal => proposal.Pattern.Read("odalys_fenn-spent_lime-FINAL2") is not null);
    }
}
