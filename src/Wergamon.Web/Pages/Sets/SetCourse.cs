using System.Globalization;
using Wergamon.App.Sets;

namespace Wergamon.Web.Pages.Sets;

/// <summary>The course of a set over its time as a drawing: a line for the tempo, blocks for the energy.</summary>
internal sealed record SetCourse(IReadOnlyList<CourseBlock> Blocks, IReadOnlyList<CourseStep> Steps, string Range, string InWords)
{
    public const int Width = 1000, Height = 120;

    private const double Top = 12, Bottom = 112, EnergyStep = 11, Gap = 2;

    public static SetCourse Of(SetView view)
    {
        var lines = view.Lines;
        double whole = Math.Max(1, lines.Sum(line => line.Track.LengthMs));
        var places = new List<(double X, double Width)>();
        double at = 0;
        foreach (var line in lines)
        {
            double width = line.Track.LengthMs / whole * Width;
            places.Add((at, width));
            at += width;
        }

        var tempos = lines.Select(line => line.Track.Tempo).OfType<double>().ToList();
        double low = tempos.Count == 0 ? 0 : tempos.Min(), high = tempos.Count == 0 ? 1 : tempos.Max();
        double Y(double tempo) => high - low < 0.5 ? 0.35 * Height : Top + (high - tempo) / (high - low) * 0.45 * Height;
        var blocks = lines.Select((line, i) => (line.Track.Energy, places[i])).Where(each => each.Energy is not null)
            .Select(each => new CourseBlock(F(each.Item2.X), F(Bottom - each.Energy!.Value * EnergyStep), F(Math.Max(0.5, each.Item2.Width - Gap)), F(each.Energy.Value * EnergyStep))).ToList();
        var steps = new List<CourseStep>();
        for (int i = 1; i < lines.Count; i++)
        {
            if (lines[i - 1].Track.Tempo is not { } from || lines[i].Track.Tempo is not { } to)
                continue;
            steps.Add(new CourseStep(F(places[i - 1].X + places[i - 1].Width / 2), F(Y(from)), F(places[i].X + places[i].Width / 2), F(Y(to)), lines[i].Step?.IsFar == true));
        }

        var range = tempos.Count == 0 ? "" : string.Create(CultureInfo.InvariantCulture, $"{low:0.0} to {high:0.0} BPM");
        return new SetCourse(blocks, steps, range, tempos.Count == 0 ? "tempos are not known yet" : $"{range}, {lines.Count(line => line.Step?.IsFar == true)} far steps");
    }

    private static string F(double value) => value.ToString("0.##", CultureInfo.InvariantCulture);
}

/// <summary>The energy of one track.</summary>
internal sealed record CourseBlock(string X, string Y, string Width, string Height);

/// <summary>From the middle of one track to that of the next.</summary>
internal sealed record CourseStep(string X1, string Y1, string X2, string Y2, bool IsFar);
