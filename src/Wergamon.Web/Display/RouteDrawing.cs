using System.Globalization;
using Wergamon.Core.Planning;
using Route = Wergamon.Core.Planning.Route;

namespace Wergamon.Web.Display;

/// <summary>One point of a drawn route with the label below it.</summary>
/// <param name="X">In units of the drawing.</param>
/// <param name="Anchor">SVG text-anchor: the first label starts at its point, the last ends there.</param>
/// <param name="Fidelity">What happened on the way to this point.</param>
public sealed record RoutePoint(double X, string Anchor, string Label, Fidelity Fidelity);

/// <summary>A route laid out as a line with a point for each step, as the plan shows it.</summary>
public sealed class RouteDrawing
{
    public const int Width = 400;
    public const int PointSize = 8;

    private const double Margin = 5;

    /// <summary>Width of a character of a label; measured in the browser, rounded up.</summary>
    private const double CharacterWidth = 5.8;

    public RouteDrawing(Route route)
    {
        string[] labels = [route.Source.Label, .. route.Steps.Select(step => step.Label)];
        var gaps = GapsBetween(labels);
        var points = new List<RoutePoint> { new(Margin, "start", route.Source.Label, route.SourceFidelity) };
        for (int i = 0; i < route.Steps.Count; i++)
        {
            bool isLast = i == route.Steps.Count - 1;
            double x = isLast ? Width - Margin : points[^1].X + gaps[i];
            points.Add(new RoutePoint(x, isLast ? "end" : "middle", route.Steps[i].Label, route.Steps[i].Fidelity));
        }

        Points = points;
        InWords = string.Join(", ", route.Steps.Select(step => $"{step.Label} {step.Fidelity.InWords()}"));
    }

    public IReadOnlyList<RoutePoint> Points { get; }

    /// <summary>The same for screen readers.</summary>
    public string InWords { get; }

    /// <summary>Distances between points: what the labels need plus equal shares of the rest, or scaled down when space is short.</summary>
    private static double[] GapsBetween(string[] labels)
    {
        int last = labels.Length - 1;
        double Reach(int at) => labels[at].Length * CharacterWidth * (at == 0 || at == last ? 1 : 0.5);
        var needed = Enumerable.Range(0, last).Select(at => Reach(at) + Reach(at + 1)).ToArray();
        double room = Width - 2 * Margin, wanted = needed.Sum();
        return [.. needed.Select(gap => wanted > room ? gap * room / wanted : gap + (room - wanted) / last)];
    }

    public static string Number(double value) => value.ToString("0.#", CultureInfo.InvariantCulture);
}
