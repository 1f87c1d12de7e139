using System.Globalization;
using System.Text.Json;
using Wergamon.Core.Naming;

namespace Wergamon.Web.Pages.Tags;

/// <summary>A run of a drawn name: a piece with its field, or fixed text.</summary>
public sealed record NameRun(string Text, string? Field, int Colour, int Start, int Length)
{
    public string X => NameDrawing.At(Start);

    public string Width => NameDrawing.Long(Length);

    public string Middle => NameDrawing.At(Start + Length / 2.0);

    public string StartHandle => NameDrawing.At(Start, -4);

    public string EndHandle => NameDrawing.At(Start + Length, -4);
}

/// <summary>The name of a real file, taken apart by a pattern.</summary>
public sealed record NameExample(string Name, IReadOnlyList<NameRun> Runs, string PiecesJson);

/// <summary>Measures of a drawn name: every character has the same width.</summary>
public static class NameDrawing
{
    public const int Height = 58;

    private const double CharacterPx = 10.8, MarginPx = 8;
    private const int Colours = 5;

    public static string WidthOf(string name) => (name.Length * CharacterPx + 2 * MarginPx).ToString("0", CultureInfo.InvariantCulture);

    internal static string At(double character, double shift = 0) =>
        (MarginPx + character * CharacterPx + shift).ToString("0.0", CultureInfo.InvariantCulture);

    internal static string Long(int characters) => (characters * CharacterPx).ToString("0.0", CultureInfo.InvariantCulture);

    /// <param name="pieces">None where the name does not fit: it is drawn as one fixed text.</param>
    public static NameExample Draw(string name, IReadOnlyList<NamePiece> pieces)
    {
        var runs = new List<NameRun>();
        int at = 0, colour = 0;
        foreach (var piece in pieces.OrderBy(piece => piece.Start))
        {
            if (piece.Start > at)
                runs.Add(new NameRun(name[at..piece.Start], null, 0, at, piece.Start - at));
            runs.Add(new NameRun(name.Substring(piece.Start, piece.Length), piece.Field, colour++ % Colours, piece.Start, piece.Length));
            at = piece.Start + piece.Length;
        }

        if (at < name.Length)
            runs.Add(new NameRun(name[at..], null, 0, at, name.Length - at));
        return new NameExample(
            name, runs,
            JsonSerializer.Serialize(
                pieces.OrderBy(piece => piece.Start)
                    .Select(piece => new { start = piece.Start, length = piece.Length, field = piece.Field })));
    }
}
