using System.Diagnostics.CodeAnalysis;

namespace Wergamon.Core.Music;

/// <summary>A key, written as musicians write it: "A minor", "E flat major".</summary>
/// <param name="Root">The key note, 0 (C) to 11 (B).</param>
public readonly record struct MusicalKey(int Root, bool IsMinor)
{
    /// <summary>The usual spelling of each key: the one with fewer accidentals in its signature.</summary>
    private static readonly string[] MajorRoots = ["C", "D flat", "D", "E flat", "E", "F", "F sharp", "G", "A flat", "A", "B flat", "B"];
    private static readonly string[] MinorRoots = ["C", "C sharp", "D", "E flat", "E", "F", "F sharp", "G", "G sharp", "A", "B flat", "B"];

    /// <summary>All 24: the major keys from C upwards, then the minor ones.</summary>
    public static IReadOnlyList<MusicalKey> All { get; } = [.. Enumerable.Range(0, 24).Select(i => new MusicalKey(i % 12, i >= 12))];

    /// <summary>Place on the line of fifths of its signature: sharps count up, flats down; relatives have the same.</summary>
    internal int Fifths => (7 * (IsMinor ? Root + 3 : Root)) % 12;

    public override string ToString() => $"{(IsMinor ? MinorRoots : MajorRoots)[Root]} {(IsMinor ? "minor" : "major")}";

    /// <summary>
    /// Reads a key as files have it: "A minor", "Am", "Ebm", "F#", "G sharp min". Case of the letter alone tells nothing.
    /// </summary>
    public static bool TryParse(string? text, [NotNullWhen(true)] out MusicalKey? key)
    {
        key = null;
        var rest = (text ?? "").Trim();
        if (rest.Length == 0 || "CDEFGAB".IndexOf(char.ToUpperInvariant(rest[0]), StringComparison.Ordinal) is var letter && letter < 0)
            return false;
        int root = new[] { 0, 2, 4, 5, 7, 9, 11 }[letter];
        rest = rest[1..].TrimStart();
        foreach (var (word, shift) in ((string, int)[])[("flat", -1), ("sharp", 1), ("b", -1), ("♭", -1), ("#", 1), ("♯", 1)])
        {
            if (!rest.StartsWith(word, StringComparison.OrdinalIgnoreCase))
                continue;
            (root, rest) = ((root + shift + 12) % 12, rest[word.Length..].TrimStart());
            break;
        }

        bool? isMinor = rest switch
        {
            "" or "M" => false,
            "m" => true,
            _ when rest.Equals("major", StringComparison.OrdinalIgnoreCase) || rest.Equals("maj", StringComparison.OrdinalIgnoreCase) =>
                false,
            _ when rest.Equals("minor", StringComparison.OrdinalIgnoreCase) || rest.Equals("min", StringComparison.OrdinalIgnoreCase) =>
                true,
            _ => null,
        };
        if (isMinor is { } minor)
            key = new MusicalKey(root, minor);
        return key is not null;
    }
}
