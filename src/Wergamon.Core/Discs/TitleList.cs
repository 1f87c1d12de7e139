using System.Text.RegularExpressions;

namespace Wergamon.Core.Discs;

/// <summary>Titles from a pasted list: one per line, with or without numbers and lengths.</summary>
public static partial class TitleList
{
    private const int MaxTitles = 200;

    /// <summary>The titles in order; a tab separates artist and title.</summary>
    public static IReadOnlyList<DiscTitle> Read(string text)
    {
        var titles = new List<DiscTitle>();
        foreach (var line in text.Split('\n').Select(line => line.Trim()).Where(line => line.Length > 0).Take(MaxTitles))
        {
            var bare = Length().Replace(Number().Replace(line, ""), "").Trim();
            if (bare.Length == 0)
                continue;
            int tab = bare.IndexOf('\t', StringComparison.Ordinal);
            titles.Add(
                tab < 0
                    ? new DiscTitle(titles.Count + 1, bare)
                    : new DiscTitle(titles.Count + 1, bare[(tab + 1)..].Trim(), bare[..tab].Trim()));
        }

        return titles;
    }

    [GeneratedRegex(@"^\d{1,2}\s*[.):\-\t]\s*")]
    private static partial Regex Number();

    [GeneratedRegex(@"\s*[\(\[]?\d{1,2}:\d{2}[\)\]]?$")]
    private static partial Regex Length();
}
