using CsCheck;
using Wergamon.Core.Naming;

namespace Wergamon.Core.Tests.Naming;

public sealed class FoldedTextTests
{
    [Theory]
    [InlineData("Ärger", "ARGER")]
    [InlineData("Grube é", "grube e\u0301")]
    [InlineData("ﬁre ½", "FIRE 1⁄2")]
    [InlineData("Straße", "STRASSE")]
    [InlineData("Smørbrød", "smorbrod")]
    [InlineData("ФОНАРЬ", "фонарь")]
    [InlineData("Ｌａｍｐ", "lamp")]
    public void Case_accents_and_forms_make_no_difference(string one, string other) =>
        Assert.Equal(FoldedText.Fold(one), FoldedText.Fold(other));

    [Fact]
    public void Numbers_sort_by_their_value_and_words_without_case()
    {
        string[] sorted = ["", "2 lamps", "10 Lamps", "010 lamps b", "100", "Äther", "atlas 9", "Atlas 10", "Zeche", "фонарь", "灯火"];
        Assert.Equal(sorted, sorted.Reverse().OrderBy(FoldedText.SortKey, StringComparer.Ordinal));
    }

    [Fact]
    public void Numbers_of_any_length_sort_by_their_value() => Gen.Select(Numbers, Numbers).Sample((a, b) =>
        Assert.Equal(
            Math.Sign(
                System.Numerics.BigInteger.Parse("0" + a, System.Globalization.CultureInfo.InvariantCulture)
                    .CompareTo(System.Numerics.BigInteger.Parse("0" + b, System.Globalization.CultureInfo.InvariantCulture))),
            Math.Sign(string.CompareOrdinal(FoldedText.SortKey("no. " + a), FoldedText.SortKey("no. " + b)))));

    [Theory]
    [InlineData("Blue-Slate Rain (take 2)", "blue slate rain take 2")]
    [InlineData("灯火 Lamp", "灯 火 lamp")]
    [InlineData("L'Été", "l ete")]
    [InlineData("  ", "")]
    public void Search_words_of_a_text(string text, string words) => Assert.Equal(words, string.Join(' ', FoldedText.Words(text)));

    [Fact]
    public void Any_text_can_be_folded_and_folding_twice_changes_nothing() => Gen.String.Sample(text =>
    {
        var once = FoldedText.Fold(text);
        Assert.Equal(once, FoldedText.Fold(once));
        _ = FoldedText.SortKey(text);
    }, iter: 5_000);

    private static readonly Gen<string> Numbers = Gen.Char['0', '9'].Array[1, 24].Select(digits => new string(digits));
}
