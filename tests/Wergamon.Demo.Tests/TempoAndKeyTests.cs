using Wergamon.Core.Music;
using Wergamon.Demo.Music;
using Wergamon.Testing;

namespace Wergamon.Demo.Tests;

/// <summary>The analysis of music against the demo music, whose tempo, first beat and key are known.</summary>
public sealed class TempoAndKeyTests
{
    private const int Rate = 44_100;

    private static readonly Lazy<(Piece Piece, MusicAnalysis Found)[]> All = new(() =>
        [
            .. LanternQuarry.Albums.SelectMany(album => album.Tracks)
                .Select(track => track.Piece)
                .Distinct()
                .AsParallel()
                .AsOrdered()
                .Select(piece => (piece, Analyse(Performance.Of(piece, Rate, 1)[0])))
        ]);

    [Fact]
    public void Steady_pieces_have_their_tempo()
    {
        // Strings that swell over a fifth of a second, in a hall, are among them.
        foreach (var (piece, found) in All.Value)
        {
            var tempo = found.Tempo!;
            Assert.InRange(tempo.Grid.BeatsPerMinute, piece.BeatsPerMinute - 0.05, piece.BeatsPerMinute + 0.05);
            Assert.True(tempo.IsSteady, $"{piece.BeatsPerMinute} drifts from {tempo.Lowest} to {tempo.Highest}");
            Assert.Contains(tempo.Alternatives, other => Math.Abs(other - piece.BeatsPerMinute / 2) < 0.05);
            Assert.Contains(tempo.Alternatives, other => Math.Abs(other - piece.BeatsPerMinute * 2) < 0.1);
        }
    }

    [Fact]
    public void The_first_beat_is_found() => Assert.All(All.Value, each => Assert.InRange(each.Found.Tempo!.Grid.FirstBeat, 0, 0.02));

    /// <summary>The strings as they are in their files: two channels or six, at 48 kHz.</summary>
    [Theory]
    [InlineData(2)]
    [InlineData(6)]
    public void Strings_in_a_hall_are_steady_in_all_channels(int channels) => Assert.All(
        All.Value.Where(each => each.Piece.Style == Style.Chamber).AsParallel().Select(each =>
    {
        var lines = Performance.Of(each.Piece, 48_000, channels);
        return (
            each.Piece.BeatsPerMinute,
            Analyse([.. Enumerable.Range(0, lines[0].Length).Select(i => lines.Average(line => line[i]))], 48_000).Tempo!);
    }), each =>
    {
        var (wanted, tempo) = each;
        Assert.InRange(tempo.Grid.BeatsPerMinute, wanted - 0.05, wanted + 0.05);
        Assert.True(tempo.IsSteady, $"{wanted} drifts from {tempo.Lowest} to {tempo.Highest}");
    });

    [Fact]
    public void Pieces_have_their_key()
    {
        var wrong = All.Value.Where(each => each.Found.Key?.Key.ToString() != each.Piece.Key)
            .Select(each => $"{each.Piece.Key} heard as {each.Found.Key?.Key}")
            .ToList();
        Assert.True(10 * wrong.Count <= All.Value.Length, string.Join(", ", wrong));
    }

    /// <summary>What comes later, or is heard more slowly, is found later or slower by as much.</summary>
    [Fact]
    public void Tempo_scales_with_the_rate_and_the_first_beat_moves_with_silence()
    {
        var piece = new Piece(9, Style.Club, 126, 4, IsMinor: true, 20, 0.9);
        var line = Performance.Of(piece, Rate, 1)[0];
        var late = Analyse([.. new double[Rate * 3 / 2], .. line]).Tempo!.Grid;
        Assert.InRange(late.FirstBeat, 1.48, 1.52);
        Assert.InRange(late.BeatsPerMinute, 125.95, 126.05);
        var slow = Analyse(line, 40_000);
        Assert.InRange(slow.Tempo!.Grid.BeatsPerMinute, 126 * 40 / 44.1 - 0.05, 126 * 40 / 44.1 + 0.05);
    }

    [Fact]
    public void A_higher_piece_is_in_a_higher_key_and_a_detuned_one_in_the_same()
    {
        foreach (int up in (int[])[1, 4, 9])
            Assert.Equal(
                new MusicalKey(up, IsMinor: true),
                Analyse(Performance.Of(new Piece(9, Style.Songs, 96, up, IsMinor: true, 20, 0.8), Rate, 1)[0]).Key!.Key);
        // 35 cents down.
        var detuned = Analyse(
            Performance.Of(new Piece(9, Style.Songs, 96, 9, IsMinor: true, 20, 0.8), Rate, 1)[0], (int)(Rate * Math.Pow(2, -0.35 / 12)));
        Assert.Equal(new MusicalKey(9, IsMinor: true), detuned.Key!.Key);
        Assert.InRange(detuned.Key.Tuning, 431, 433);
    }

    /// <summary>Figures of one machine, the same on it without AVX and FMA: any other machine has to come to them, too.</summary>
    [Fact]
    public void Results_are_equal_on_every_machine()
    {
        var found = Analyse(Performance.Of(new Piece(9, Style.Club, 126, 4, IsMinor: true, 20, 0.9), Rate, 1)[0]);
        Assert.Equal(("E minor", "126.003679", "0.001309", "0.500316", "439.667174", "4.008677", "2317.786194", "15.238959"), (
            found.Key!.Key.ToString(), Digits(found.Tempo!.Grid.BeatsPerMinute), Digits(found.Tempo.Grid.FirstBeat),
            Digits(found.Key.Confidence), Digits(found.Key.Tuning),
            Digits(found.OnsetsPerSecond), Digits(found.Brightness), Digits(found.FirstChange!.Value)));
        static string Digits(double value) => value.ToString("0.000000", System.Globalization.CultureInfo.InvariantCulture);
    }

    [Fact]
    public void Silence_and_noise_claim_nothing()
    {
        var silence = Analyse(new double[10 * Rate]);
        Assert.Equal((null, null, 0.0), (silence.Tempo, silence.Key, silence.OnsetsPerSecond));
        var random = new Random(1);
        var noise = Analyse([.. Enumerable.Range(0, 20 * Rate).Select(_ => 0.2 * random.NextDouble() - 0.1)]);
        Assert.True(noise.Tempo is null || noise.Tempo.Confidence < 0.35, $"confidence {noise.Tempo?.Confidence}");
        Assert.Null(Analyse([]).Tempo);
    }

    private static MusicAnalysis Analyse(double[] line, int rate = Rate) =>
        MusicAnalyser.Analyse(TestSound.Of([.. line.Select(sample => (float)sample)], rate), _ => { });
}
