namespace Wergamon.Core.Music;

/// <summary>How keys are spelled in tags.</summary>
public enum KeySpelling
{
    /// <summary>As musicians write them: "E flat minor".</summary>
    Words,

    /// <summary>Short, with sharps alone: "D#m" (the form of TKEY in ID3v2.4.0 - Native Frames, section 4.2.3).</summary>
    Sharps,

    /// <summary>Short, with flats alone: "Ebm" (as above).</summary>
    Flats,

    /// <summary>By words of one's own.</summary>
    Own,
}

/// <summary>How a person wants keys written into tags.</summary>
/// <param name="Own">A word for each of <see cref="MusicalKey.All"/>, in that order; fewer than 24 make the own spelling the usual
/// one.</param>
public sealed record KeyNotation(KeySpelling Spelling, IReadOnlyList<string> Own)
{
    private static readonly string[] SharpRoots = ["C", "C#", "D", "D#", "E", "F", "F#", "G", "G#", "A", "A#", "B"];
    private static readonly string[] FlatRoots = ["C", "Db", "D", "Eb", "E", "F", "Gb", "G", "Ab", "A", "Bb", "B"];

    public static KeyNotation Usual { get; } = new(KeySpelling.Words, []);

    public string Write(MusicalKey key) => Spelling switch
    {
        KeySpelling.Sharps => SharpRoots[key.Root] + (key.IsMinor ? "m" : ""),
        KeySpelling.Flats => FlatRoots[key.Root] + (key.IsMinor ? "m" : ""),
        KeySpelling.Own when Own.Count == MusicalKey.All.Count => Own[PlaceOf(key)],
        _ => key.ToString(),
    };

    /// <summary>Reads a key as this notation, or any usual one, has it.</summary>
    public MusicalKey? Read(string? text)
    {
        var word = (text ?? "").Trim();
        for (int i = 0; i < Own.Count && Own.Count == MusicalKey.All.Count; i++)
        {
            if (Own[i].Equals(word, StringComparison.OrdinalIgnoreCase))
                return MusicalKey.All[i];
        }

        return MusicalKey.TryParse(word, out var key) ? key : null;
    }

    /// <summary>Why words typed for the 24 keys cannot be used; null when they can.</summary>
    public static string? ProblemOf(IReadOnlyList<string> words) =>
        words.Count != MusicalKey.All.Count
            ? $"Enter 24 names, one per line: the major keys from C upwards, then the minor keys. There are {words.Count}."
        : words.GroupBy(word => word, StringComparer.OrdinalIgnoreCase).FirstOrDefault(group => group.Count() > 1) is { } twice
            ? $"“{twice.Key}” is used for two keys."
        : null;

    private static int PlaceOf(MusicalKey key) => key.Root + (key.IsMinor ? 12 : 0);
}
