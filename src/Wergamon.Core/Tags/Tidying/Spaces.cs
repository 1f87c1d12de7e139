namespace Wergamon.Core.Tags.Tidying;

/// <summary>Blanks around and within text.</summary>
public static class Spaces
{
    /// <summary>Trimmed, with one blank for several; lines stay lines.</summary>
    public static string Tidy(string text) =>
        string.Join(
            '\n',
            text.ReplaceLineEndings("\n")
                .Split('\n')
                .Select(
                    line => string.Join(' ', line.Split((char[])[' ', '\t', '\u00A0'], StringSplitOptions.RemoveEmptyEntries)))).Trim('\n');
}
