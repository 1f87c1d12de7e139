using System.Globalization;
using Wergamon.App.Bench;
using Wergamon.Core.Analysis.Comparing;

namespace Wergamon.Web.Pages.Bench;

/// <summary>A figure of each pass as a drawing: a line for each target, with a pattern of its own.</summary>
/// <param name="Title">What is drawn, with its unit.</param>
/// <param name="Start">The figure of the original, if it has one.</param>
public sealed record PassChart(string Title, double? Start, IReadOnlyList<PassChartLine> Lines, int Passes)
{
    private const int Left = 44, Right = 300, Top = 8, Bottom = 112;

    private double Lowest => Math.Floor(Values.DefaultIfEmpty(0).Min() - 0.05);

    private double Highest => Math.Max(Lowest + 1, Math.Ceiling(Values.DefaultIfEmpty(0).Max() + 0.05));

    private IEnumerable<double> Values =>
        Lines.SelectMany(line => line.Values).Where(double.IsFinite).Concat(Start is { } start ? [start] : []);

    /// <summary>Labels of the vertical axis with their positions.</summary>
    public IEnumerable<(string Label, string Y)> Marks =>
        new[] { Highest, (Highest + Lowest) / 2, Lowest }.Select(
            value =>
                (Math.Round(value, 1) == 0 ? "0" : value.ToString("0.#", CultureInfo.InvariantCulture).Replace('-', '−'),
                    Number(Y(value))));

    public string StartY => Number(Y(Start ?? Lowest));

    /// <summary>Points of a line, from the first pass on; missing figures are skipped.</summary>
    public string Points(PassChartLine line) =>
        string.Join(
            ' ',
            line.Values.Index()
                .Where(each => double.IsFinite(each.Item))
                .Select(each => $"{Number(X(each.Index))},{Number(Y(each.Item))}"));

    public string LastX => Number(X(Passes - 1));

    public static IReadOnlyList<PassChart> Of(PassesRecord passes)
    {
        return
        [
            Chart("Residue level, dB", null, pass => pass.Original.ResiduePeak is null ? double.NaN : pass.Original.BelowMusic),
            Chart(
                "Change from previous pass, dB below", null,
                pass => pass.Previous.ResiduePeak is null ? double.NaN : pass.Previous.BelowMusic),
            Chart("True peak, dBTP", First(pass => pass.Original.First.TruePeak), pass => pass.Original.Second.TruePeak),
            Chart(
                "Upper limit, kHz", First(pass => pass.Original.First.TopEndHertz / 1000), pass => pass.Original.Second.TopEndHertz / 1000),
            Chart(
                "Loudest second, dBFS", First(pass => pass.Original.First.Loudest?.Decibels),
                pass => pass.Original.Second.Loudest?.Decibels ?? double.NaN),
            Chart(
                "Quietest second, dBFS", First(pass => pass.Original.First.Quietest?.Decibels),
                pass => pass.Original.Second.Quietest?.Decibels ?? double.NaN),
        ];

        double? First(Func<PassRecord, double?> figure) =>
            passes.Series.SelectMany(series => series.Passes).Select(figure).FirstOrDefault();

        PassChart Chart(string title, double? start, Func<PassRecord, double> figure) =>
            new(
                title, start,
                [
                    .. passes.Series.Select(
                        (series, index) => new PassChartLine(series.Target.IsLossy, index, [.. series.Passes.Select(figure)]))
                ],
                passes.Count);
    }

    private double X(int pass) => Passes < 2 ? (Left + Right) / 2.0 : Left + (double)pass / (Passes - 1) * (Right - Left);

    private double Y(double value) => Bottom - (value - Lowest) / (Highest - Lowest) * (Bottom - Top);

    private static string Number(double value) => value.ToString("0.#", CultureInfo.InvariantCulture);
}

/// <param name="IsLossy">Chooses the colour.</param>
/// <param name="Index">Chooses the pattern.</param>
public sealed record PassChartLine(bool IsLossy, int Index, IReadOnlyList<double> Values)
{
    public string Style => StyleOf(IsLossy, Index);

    /// <summary>The classes of a line.</summary>
    public static string StyleOf(bool isLossy, int index) => $"pass-line pass-line-{index} {(isLossy ? "is-lossy" : "is-exact")}";
}
