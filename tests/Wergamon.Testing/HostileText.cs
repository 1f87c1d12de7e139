using CsCheck;

namespace Wergamon.Testing;

/// <summary>Text of every class of Unicode, whole and broken, as files, names and requests can bring it.</summary>
public static class HostileText
{
    /// <summary>One of each class, by name (Unicode 16, chapters 2.4, 3.9 and 23).</summary>
    public static IReadOnlyList<(string Class, string Text)> Classes { get; } =
    [
        ("high surrogate alone", "Lamp \uD83D"),
        ("low surrogate alone", "\uDE00 Lamp"),
        ("pair in the wrong order", "a\uDE00\uD83Db"),
        ("surrogate before a letter", "\uD800x\uDBFF"),
        ("noncharacter U+FFFE", "Winch\uFFFE"),
        ("noncharacter U+FFFF", "\uFFFFWinch"),
        ("noncharacter U+FDD0", "Win\uFDD0ch\uFDEF"),
        ("noncharacters of planes 1 and 16", "a\U0001FFFE b\U0010FFFF"),
        ("NUL inside and at the end", "Cage\0Shaft\0"),
        ("control characters", "\u0001\u0002\u0008Bell\u0007\u001B[31m\u007F"),
        ("C1 control characters", "\u0080\u0085\u009F"),
        ("line and paragraph separators", "one\u2028two\u2029three\r\nfour"),
        ("emoji and joined emoji", "Night 🎉 👩‍👩‍👧‍👦 🏳️‍🌈"),
        ("letters of plane 1", "𝄞 𝕷𝖆𝖒𝖕"),
        ("combining marks, one on another", "a" + string.Concat(Enumerable.Repeat("\u0301\u0323", 40))),
        ("combining mark first", "\u0301Adit"),
        ("decomposed and composed", "e\u0301 é ﬁ Å Ⅳ"),
        ("Hangul, composed and in pieces", "한글 \u1112\u1161\u11AB"),
        ("right to left, with overrides", "قنديل \u202Eevil\u202C שלט"),
        ("byte order mark", "\uFEFFLantern\uFEFF"),
        ("private use and unassigned", "\uE000 \u0378 \U000F0000 \U000E0080"),
        ("markup and code", "<script>alert(1)</script> & \" ' ]]> {{x}} ${y} %n"),
        ("paths", "../../etc/passwd C:\\con.wav /abs ."),
        ("formulas", "=1+1 +2 -3 @x"),
        ("blanks of all kinds", "\u00A0\u2003\u3000\t \u200B"),
        ("replacement character", "caf\uFFFD"),
        ("empty", ""),
        ("very long", string.Concat(Enumerable.Repeat("Slate 🎉 ", 20_000))),
    ];

    /// <summary>Any mixture of pieces of all classes, and of single UTF-16 units of any value.</summary>
    public static Gen<string> Any { get; } = Gen.OneOf(
        Gen.OneOfConst([.. Classes.Select(each => each.Text).Where(text => text.Length < 1000)]),
        Gen.Char['\u0000', '\uFFFF'].Select(unit => unit.ToString()),
        Gen.String.AlphaNumeric).Array[0, 6].Select(string.Concat);
}
