using CsCheck;
using Wergamon.Core.Music;

namespace Wergamon.Core.Tests.Music;

/// <summary>Keys, how they stand to each other, and steps from track to track.</summary>
public sealed class KeyTests
{
    [Theory]
    [InlineData("A minor", "A minor")]
    [InlineData("Am", "A minor")]
    [InlineData("ebm", "E flat minor")]
    [InlineData("F#", "F sharp major")]
    [InlineData("G sharp min", "G sharp minor")]
    [InlineData("Dbmaj", "D flat major")]
    [InlineData("C♯m", "C sharp minor")]
    [InlineData("Cb", "B major")]
    [InlineData("B", "B major")]
    [InlineData("Bb", "B flat major")]
    public void Keys_are_read_as_files_have_them(string text, string expected) =>
        Assert.Equal(expected, MusicalKey.TryParse(text, out var key) ? key.ToString() : null);

    [Theory]
    [InlineData("")]
    [InlineData(null)]
    [InlineData("o")]
    [InlineData("H minor")]
    [InlineData("A minor 7")]
    public void Other_text_is_not_a_key(string? text) => Assert.False(MusicalKey.TryParse(text, out _));

    [Fact]
    public void Every_key_reads_back_as_it_is_written() =>
        Assert.All(MusicalKey.All, key => Assert.Equal(key, MusicalKey.TryParse(key.ToString(), out var read) ? read : null));

    /// <summary>As harmony names them; the relative of a major key lies a minor third below it.</summary>
    [Theory]
    [InlineData("A minor", "A minor", "same key", 0)]
    [InlineData("A minor", "E minor", "a fifth up", 1)]
    [InlineData("E minor", "A minor", "a fifth down", 1)]
    [InlineData("E minor", "G major", "relative major", 0)]
    [InlineData("E flat major", "C minor", "relative minor", 0)]
    [InlineData("F minor", "F major", "parallel major", 4)]
    [InlineData("C major", "D major", "a tone up", 2)]
    [InlineData("C major", "F sharp major", "a tritone", 6)]
    [InlineData("C major", "E minor", "a major third up, to minor", 2)]
    public void Relations_are_named_as_in_harmony(string from, string to, string words, int distance)
    {
        Assert.True(MusicalKey.TryParse(from, out var first));
        Assert.True(MusicalKey.TryParse(to, out var second));
        Assert.Equal(words, KeyRelation.InWords(first.Value, second.Value));
        Assert.Equal(distance, KeyRelation.Distance(first.Value, second.Value));
    }

    [Fact]
    public void Distances_are_the_same_both_ways_and_in_every_transposition() => Gen.Select(
        Gen.Int[0, 23], Gen.Int[0, 23], Gen.Int[0, 11]).Sample((a, b, up) =>
    {
        var (first, second) = (MusicalKey.All[a], MusicalKey.All[b]);
        int distance = KeyRelation.Distance(first, second);
        Assert.Equal(distance, KeyRelation.Distance(second, first));
        Assert.Equal(
            distance, KeyRelation.Distance(first with { Root = (first.Root + up) % 12 }, second with { Root = (second.Root + up) % 12 }));
        Assert.Equal(a == b, KeyRelation.InWords(first, second) == "same key");
    });

    [Theory]
    [InlineData(124.0, 124.0, "same tempo, same key", false)]
    [InlineData(124.0, 126.0, "+1.6 %, same key", false)]
    [InlineData(128.0, 132.0, "+3.1 %, same key, far", true)]
    [InlineData(132.0, 100.0, "-24 %, same key, far", true)]
    [InlineData(63.0, 126.0, "double tempo, same key", false)]
    [InlineData(174.0, 88.0, "half tempo, +1.1 %, same key", false)]
    [InlineData(63.0, 132.0, "double tempo, +4.8 %, same key, far", true)]
    [InlineData(63.0, 112.0, "+78 %, same key, far", true)]
    [InlineData(null, 100.0, "same key", false)]
    public void Transitions_state_their_distance(double? from, double to, string words, bool isFar)
    {
        var key = new MusicalKey(9, IsMinor: true);
        var step = Transition.Between(new TrackFigures(from, key, 3), new TrackFigures(to, key, 3));
        Assert.Equal((words, isFar), (step.InWords, step.IsFar));
    }

    /// <summary>Short forms are those of TKEY (ID3v2.4.0 - Native Frames, section 4.2.3).</summary>
    [Theory]
    [InlineData(KeySpelling.Words, "E flat minor", "F sharp major")]
    [InlineData(KeySpelling.Sharps, "D#m", "F#")]
    [InlineData(KeySpelling.Flats, "Ebm", "Gb")]
    [InlineData(KeySpelling.Own, "word 15", "word 6")]
    public void Keys_are_written_as_the_person_wants_them(KeySpelling spelling, string minor, string major)
    {
        var notation = new KeyNotation(spelling, [.. Enumerable.Range(0, 24).Select(i => $"word {i}")]);
        Assert.Equal((minor, major), (notation.Write(new MusicalKey(3, IsMinor: true)), notation.Write(new MusicalKey(6, IsMinor: false))));
        Assert.All(MusicalKey.All, key => Assert.Equal(key, notation.Read(notation.Write(key))));
        Assert.All(MusicalKey.All, key => Assert.Equal(key, notation.Read(key.ToString())));
    }

    [Fact]
    public void Custom_key_names_must_be_24_different_ones()
    {
        string[] words = [.. Enumerable.Range(0, 24).Select(i => $"w{i}")];
        Assert.Null(KeyNotation.ProblemOf(words));
        Assert.Contains("There are 23", KeyNotation.ProblemOf(words[1..]), StringComparison.Ordinal);
        Assert.Contains(
            "“W0” is used for two keys", KeyNotation.ProblemOf([.. words[..23], "W0"])!.Replace("w0", "W0", StringComparison.Ordinal),
            StringComparison.Ordinal);
        Assert.Equal("C major", new KeyNotation(KeySpelling.Own, words[1..]).Write(MusicalKey.All[0]));
    }

    [Fact]
    public void Energy_is_relative_to_the_library()
    {
        var library = Enumerable.Range(0, 100).Select(i => new EnergyFacts(-30 + 0.2 * i, 0.05 * i, 1000 + 20 * i)).ToList();
        var scale = new EnergyScale(library);
        Assert.Equal([1, 2, 3, 4, 5], new[] { 5, 30, 50, 70, 95 }.Select(i => scale.Of(library[i])));
        // A library of quiet music has its lively tracks too.
        var quiet = new EnergyScale([.. library.Select(each => each with { Loudness = each.Loudness - 20 })]);
        Assert.Equal(5, quiet.Of(library[95] with { Loudness = library[95].Loudness - 20 }));
        Assert.InRange(new EnergyScale([]).Of(library[50]), 1, 5);
    }
}
