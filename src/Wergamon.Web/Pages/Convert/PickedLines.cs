using System.Globalization;
using Wergamon.App.Convert;

namespace Wergamon.Web.Pages.Convert;

/// <summary>Lines of a plan as a form names them.</summary>
public sealed record PickedLines
{
    /// <summary>Their places in the plan.</summary>
    public int[] Track { get; init; } = [];

    /// <summary>The same for many, in one field and separated by commas.</summary>
    public string? Numbers { get; init; }

    /// <summary>True for all that are shown.</summary>
    public bool All { get; init; }

    public PlanFilter Show { get; init; }

    public IReadOnlyList<PlanLine> In(PlanView view)
    {
        var places = Track.ToHashSet();
        foreach (var number in (Numbers ?? "").Split(','))
        {
            if (int.TryParse(number, CultureInfo.InvariantCulture, out int place))
                places.Add(place);
        }

        return [.. view.Lines.Where(line => All ? line.IsShownIn(Show) : places.Contains(line.Position))];
    }

    public int[] PositionsIn(PlanView view) => [.. In(view).Select(line => line.Position)];
}

/// <summary>A part of the lines of a plan.</summary>
/// <param name="From">The first line, among those that are shown.</param>
public sealed record PlanLinesModel(PlanView View, PlanFilter Show, int From)
{
    /// <summary>Lines that are sent at a time.</summary>
    public const int PartSize = 100;

    public IReadOnlyList<PlanLine> Shown { get; } = [.. View.Lines.Where(line => line.IsShownIn(Show))];
}
