using System.Globalization;
using System.Text;
using Wergamon.App.Sets;
using Wergamon.Core.Music;

namespace Wergamon.Web.Pages.Sets;

/// <summary>The course of a set over its time as a drawing: a line for the tempo, blocks for the energy.</summary>
/// <param name="Energy">The blocks as one path, as are the steps.</param>
/// <param name="FarSteps">Steps that are drawn broken.</param>
internal sealed record SetCourse(string Energy, string Steps, string FarSteps, string Range, string InWords)
{
    public const int Width = 1000, Height = 120;

    private const double Top = 12, Bottom = 112, EnergyStep = 11, Gap = 2;

    public static SetCourse Of(SetView view) =>
        Of([.. view.Lines.Select(line => new CoursePoint(line.Track.Length, line.Track.Figures))]);

    public static SetCourse Of(IReadOnlyList<CoursePoint> points)
    {
        double whole = Math.Max(0.001, points.Sum(point => point.Length.TotalSeconds)), at = 0;
        var tempos = points.Select(point => point.Figures.Tempo).OfType<double>().ToList();
        double low = tempos.Count == 0 ? 0 : tempos.Min(), high = tempos.Count == 0 ? 1 : tempos.Max();
        double Y(double tempo) => high - low < 0.5 ? 0.35 * Height : Top + (high - tempo) / (high - low) * 0.45 * Height;
        var (energy, steps, farSteps) = (new StringBuilder(), new StringBuilder(), new StringBuilder());
        int far = 0;
        TrackFigures? before = null;
        (double X, double Y)? from = null;
        foreach (var (length, figures) in points)
        {
            double width = length.TotalSeconds / whole * Width;
            if (figures.Energy is { } level)
                energy.Append(
                    CultureInfo.InvariantCulture, $"M{at:0.##} {Bottom}v{-level * EnergyStep}h{Math.Max(0.5, width - Gap):0.##}V{Bottom}z");
            bool isFar = before is not null && Transition.Between(before, figures).IsFar;
            (double X, double Y)? here = figures.Tempo is { } tempo ? (at + width / 2, Y(tempo)) : null;
            if (from is var (fromX, fromY) && here is var (toX, toY))
                (isFar ? farSteps : steps).Append(CultureInfo.InvariantCulture, $"M{fromX:0.##} {fromY:0.##}L{toX:0.##} {toY:0.##}");
            far += isFar ? 1 : 0;
            (from, before) = (here, figures);
            at += width;
        }

        var range = tempos.Count == 0 ? "" : string.Create(CultureInfo.InvariantCulture, $"{low:0.0} to {high:0.0} BPM");
        return new SetCourse(
            energy.ToString(), steps.ToString(), farSteps.ToString(), range,
            tempos.Count == 0 ? "tempos are unknown so far" : $"{range}, {far} far {(far == 1 ? "step" : "steps")}");
    }
}
