using Wergamon.Core.Music;
using Wergamon.Testing;
using Wergamon.Testing.Outside;

namespace Wergamon.Core.Tests.Music;

/// <summary>Tempo and key of pieces written here and played by libfluidsynth 2.3 with the instruments of timgm6mb-soundfont.</summary>
public sealed class InstrumentTests
{
    private const int Rate = 44_100;
    private const int Piano = 0, Guitar = 25, Bass = 33, Strings = 48, Organ = 16, Horn = 60;

    private static readonly int[] MajorScale = [0, 2, 4, 5, 7, 9, 11], MinorScale = [0, 2, 3, 5, 7, 8, 10];

    private static readonly (string Name, double Tempo, Func<Score> Write)[] Steady =
    [
        ("four on the floor, 128", 128, () => FourOnTheFloor(128)),
        ("four on the floor, 121.37", 121.37, () => FourOnTheFloor(121.37)),
        ("broken beat, 174", 174, () => BrokenBeat(174)),
        ("swing, 140", 140, () => Swing(140)),
        ("rock, 96", 96, () => Rock(96)),
        ("waltz, 150", 150, () => Metre(150, 3)),
        ("five-four, 132", 132, () => Metre(132, 5)),
        ("piano alone, 76", 76, () => PianoAlone(76)),
        ("piano alone, 108", 108, () => PianoAlone(108)),
        ("strings, 88", 88, () => StringsAlone(88)),
        ("guitar, 112", 112, () => GuitarAlone(112)),
        ("quiet introduction, 124", 124, () => QuietStart(124)),
    ];

    [Fact]
    public void Steady_pieces_have_their_tempo_or_a_stated_octave()
    {
        var heard = Steady.AsParallel().AsOrdered().Select(piece =>
        {
            var sound = piece.Write().Render(Rate);
            return (piece.Name, piece.Tempo, Found: Analyse(sound).Tempo, Other: LibAubio.Tempo(sound, Rate));
        }).ToList();
        var right = heard.Where(each => IsRight(each.Found, each.Tempo)).ToList();
        int aubio = heard.Count(
            each => IsNear(each.Other, each.Tempo, 0.02) || IsNear(each.Other, each.Tempo / 2, 0.02)
                || IsNear(each.Other, each.Tempo * 2, 0.02));
        var report = string.Join(
            "\n",
            heard.Select(
                each =>
                    $"{each.Name}: {each.Found?.Grid.BeatsPerMinute:0.000}, {each.Found?.Confidence:0.00}, others "
                        + $"{string.Join(" ", each.Found?.Alternatives.Select(other => $"{other:0.0}") ?? [])}; libaubio "
                        + $"{each.Other:0.0}"));
        TestContext.Current.TestOutputHelper?.WriteLine(report);
        Assert.True(10 * right.Count >= 9 * heard.Count, report);
        Assert.True(right.Count >= aubio, report);
    }

    [Fact]
    public void A_drifting_tempo_is_given_as_a_range()
    {
        var score = new Score(beat => 100 + 12 * Math.Min(1, beat / 64));
        Backing(score, 96, 4);
        var tempo = Analyse(score.Render(Rate)).Tempo!;
        Assert.False(tempo.IsSteady);
        Assert.InRange(tempo.Lowest, 98, 104);
        Assert.InRange(tempo.Highest, 108, 114);
    }

    [Fact]
    public void Drift_of_strings_without_drums_is_reported()
    {
        var tempo = Analyse(StringsAlone(beat => 84 + 12 * Math.Min(1, beat / 64), 96).Render(Rate)).Tempo!;
        Assert.False(tempo.IsSteady);
        Assert.InRange(tempo.Lowest, 82, 89);
        Assert.InRange(tempo.Highest, 92, 98);
    }

    /// <summary>Half a minute of organ, then drums, then the organ alone: both changes on the beat, and none within.</summary>
    [Fact]
    public void Strong_changes_of_the_sound_are_where_drums_come_and_go()
    {
        var found = Analyse(QuietStart(124, endingBars: 6).Render(Rate));
        Assert.InRange(found.FirstChange!.Value, 48 * 60 / 124.0 - 0.1, 48 * 60 / 124.0 + 0.1);
        Assert.InRange(found.LastChange!.Value, 112 * 60 / 124.0 - 0.5, 112 * 60 / 124.0 + 0.5);
        Assert.Null(Analyse(FourOnTheFloor(128).Render(Rate)).FirstChange);
    }

    [Fact]
    public void Keys_are_heard_in_all_24()
    {
        var heard = MusicalKey.All.AsParallel()
            .AsOrdered()
            .Select(key => (Key: key, Found: Analyse(InKey(key).Render(Rate)).Key!))
            .ToList();
        int Count(Func<MusicalKey, MusicalKey, bool> fits) => heard.Count(each => fits(each.Key, each.Found.Key));
        var report = string.Join(
            "\n",
            heard.Where(each => each.Key != each.Found.Key)
                .Select(each => $"{each.Key} heard as {each.Found.Key}, then {each.Found.Second}"));
        int fifths = Count((key, found) => KeyRelation.InWords(key, found) is "a fifth up" or "a fifth down");
        int relatives = Count((key, found) => KeyRelation.InWords(key, found) is "relative major" or "relative minor");
        TestContext.Current.TestOutputHelper?.WriteLine(
            $"{heard.Count(each => each.Key == each.Found.Key)} of {heard.Count} right, {fifths} a fifth off, {relatives} the "
                + $"relative\n{report}");
        Assert.True(10 * heard.Count(each => each.Key == each.Found.Key) >= 8 * heard.Count, report);
    }

    private static bool IsRight(Tempo? found, double tempo) => found is not null
        && (
            IsNear(found.Grid.BeatsPerMinute, tempo, 0.0005)
                || (
                    (IsNear(found.Grid.BeatsPerMinute, tempo / 2, 0.0005) || IsNear(found.Grid.BeatsPerMinute, tempo * 2, 0.0005))
                        && found.Alternatives.Any(other => IsNear(other, tempo, 0.0005))));

    private static bool IsNear(double value, double wanted, double share) => Math.Abs(value / wanted - 1) < share;

    private static Score FourOnTheFloor(double tempo)
    {
        var score = new Score(tempo).Instrument(0, Bass).Instrument(1, Organ);
        for (int beat = 0; beat < 64; beat++)
        {
            score.Drum(36, beat, 120);
            score.Drum(42, beat + 0.5, 80);
            if (beat % 2 == 1)
                score.Drum(38, beat, 90);
            score.Note(0, 33 + MinorScale[beat / 4 % 4], beat + 0.5, 0.4, 100);
        }

        for (int bar = 0; bar < 16; bar++)
            score.Chord(1, [57 + MinorScale[bar % 4], 60 + MinorScale[bar % 4]], 4 * bar + 1, 0.5, 70);
        return score;
    }

    private static Score BrokenBeat(double tempo)
    {
        var score = new Score(tempo).Instrument(0, Bass);
        for (int bar = 0; bar < 24; bar++)
        {
            foreach (double kick in (double[])[0, 2.5])
                score.Drum(36, 4 * bar + kick, 120);
            foreach (double snare in (double[])[1, 3])
                score.Drum(38, 4 * bar + snare, 115);
            for (int i = 0; i < 8; i++)
                score.Drum(42, 4 * bar + 0.5 * i, i % 2 == 0 ? 80 : 60);
            score.Drum(38, 4 * bar + 3.75, 50);
            score.Note(0, 30 + bar % 3, 4 * bar, 1.5, 100);
            score.Note(0, 33, 4 * bar + 2.5, 1, 90);
        }

        return score;
    }

    private static Score Swing(double tempo)
    {
        var score = new Score(tempo).Instrument(0, 32).Instrument(1, Piano);
        int[] walk = [0, 4, 7, 9, 10, 9, 7, 4];
        for (int beat = 0; beat < 72; beat++)
        {
            score.Drum(51, beat, 90);
            if (beat % 2 == 1)
            {
                score.Drum(51, beat + 2 / 3.0, 70);
                score.Drum(44, beat, 70);
            }

            score.Note(0, 36 + walk[beat % 8], beat, 0.9, 90);
        }

        for (int bar = 0; bar < 18; bar++)
            score.Chord(1, [64, 67, 70], 4 * bar + 1 + 2 / 3.0, 0.4, 70);
        return score;
    }

    private static Score Rock(double tempo)
    {
        var score = new Score(tempo);
        Backing(score, 56, 4);
        return score;
    }

    private static Score Metre(double tempo, int beatsPerBar)
    {
        var score = new Score(tempo);
        Backing(score, 25 * beatsPerBar, beatsPerBar);
        return score;
    }

    /// <summary>Drums, bass and guitar in bars of any length.</summary>
    private static void Backing(Score score, int beats, int beatsPerBar)
    {
        score.Instrument(0, Bass).Instrument(1, Guitar);
        for (int beat = 0; beat < beats; beat++)
        {
            int inBar = beat % beatsPerBar, bar = beat / beatsPerBar;
            int root = MajorScale[new[] { 0, 3, 4, 0 }[bar % 4]];
            if (inBar == 0)
                score.Drum(36, beat, 115);
            else
                score.Drum(beatsPerBar == 4 && inBar == 2 ? 36 : 38, beat, 90);
            score.Drum(42, beat, 70);
            score.Drum(42, beat + 0.5, 55);
            score.Note(0, 36 + root, beat, 0.8, 95);
            score.Chord(1, [60 + root, 64 + root, 67 + root], beat + (inBar == 0 ? 0 : 0.02), 0.8, 70);
        }
    }

    private static Score PianoAlone(double tempo)
    {
        var score = new Score(tempo).Instrument(0, Piano);
        int[] chords = [0, 5, 3, 4], tune = [4, 2, 0, 1, 2, 4, 5, 4];
        for (int beat = 0; beat < 48; beat++)
        {
            int root = MajorScale[chords[beat / 4 % 4]];
            score.Note(0, 41 + root, beat, 1, beat % 4 == 0 ? 90 : 65);
            score.Note(0, 53 + root + (beat % 2 == 0 ? 4 : 7), beat + 0.5, 0.5, 55);
            if (beat % 8 != 7)
                score.Note(0, 72 + MajorScale[tune[beat % 8]], beat, beat % 3 == 0 ? 1.5 : 0.5, 85);
        }

        return score;
    }

    private static Score StringsAlone(double tempo) => StringsAlone(_ => tempo, 56);

    private static Score StringsAlone(Func<double, double> tempoAt, int beats)
    {
        var score = new Score(tempoAt).Instrument(0, Strings).Instrument(1, Strings);
        int[] chords = [0, 3, 4, 0], tune = [4, 5, 4, 2, 1, 2, 4, 0];
        for (int beat = 0; beat < beats; beat++)
        {
            int root = MinorScale[chords[beat / 4 % 4]];
            if (beat % 2 == 0)
                score.Chord(0, [50 + root, 57 + root], beat, 1.9, 80);
            score.Note(1, 74 + MinorScale[tune[beat % 8]], beat, 0.95, 90);
        }

        return score;
    }

    private static Score GuitarAlone(double tempo)
    {
        var score = new Score(tempo).Instrument(0, Guitar);
        int[] chords = [0, 4, 5, 3], picked = [0, 7, 12, 16, 19, 16, 12, 7];
        for (int i = 0; i < 120; i++)
            score.Note(0, 43 + MajorScale[chords[i / 16 % 4]] + picked[i % 8], 0.5 * i, 0.9, i % 8 == 0 ? 95 : 70);
        return score;
    }

    /// <summary>Half a minute of organ before the drums.</summary>
    /// <param name="endingBars">Bars of organ after them.</param>
    private static Score QuietStart(double tempo, int endingBars = 0)
    {
        var score = new Score(tempo).Instrument(0, Organ).Instrument(1, Bass);
        for (int bar = 0; bar < 28 + endingBars; bar++)
        {
            score.Chord(0, [57 + MinorScale[bar % 4], 64 + MinorScale[bar % 4]], 4 * bar, 3.8, 40);
            for (int beat = 0; bar is >= 12 and < 28 && beat < 4; beat++)
            {
                score.Drum(36, 4 * bar + beat, 115);
                score.Drum(42, 4 * bar + beat + 0.5, 75);
                score.Note(1, 33 + MinorScale[bar % 4], 4 * bar + beat + 0.5, 0.4, 95);
            }
        }

        return score;
    }

    /// <summary>A cadence and a melody in one key, as a song would have them; the instruments take turns.</summary>
    private static Score InKey(MusicalKey key)
    {
        int lead = new[] { Piano, Guitar, Organ, Horn }[key.Root % 4];
        var score = new Score(100 + key.Root).Instrument(0, Strings).Instrument(1, lead).Instrument(2, Bass);
        var scale = key.IsMinor ? MinorScale : MajorScale;
        int[] degrees = key.IsMinor ? [0, 3, 4, 0, 5, 3, 4, 0] : [0, 5, 3, 4, 0, 3, 4, 0];
        int[] tune = [0, 2, 4, 2, 5, 4, 2, 1, 0, 2, 3, 4, 2, 1, 1, 0];
        for (int bar = 0; bar < 8; bar++)
        {
            int degree = degrees[bar % 8];
            int Degree(int step) => scale[(degree + step) % 7] + 12 * ((degree + step) / 7);
            // The dominant of a minor key has its leading note.
            int third = Degree(2) + (key.IsMinor && degree == 4 ? 1 : 0);
            score.Chord(0, new[] { Degree(0), third, Degree(4) }.Select(note => 48 + key.Root + note), 4 * bar, 3.9, 70);
            score.Note(2, 36 + key.Root + scale[degree % 7], 4 * bar, 1.9, 90);
            score.Note(2, 36 + key.Root + scale[(degree + 4) % 7], 4 * bar + 2, 1.9, 80);
            for (int beat = 0; beat < 4; beat++)
            {
                score.Note(1, 72 + key.Root + scale[tune[(4 * bar + beat) % 16] % 7], 4 * bar + beat, 0.9, 85);
                score.Drum(beat % 2 == 0 ? 36 : 38, 4 * bar + beat, 70);
            }
        }

        return score;
    }

    private static MusicAnalysis Analyse(float[] mono) => MusicAnalyser.Analyse(TestSound.Of(mono, Rate), _ => { });
}
