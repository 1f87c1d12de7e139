using System.Globalization;
using Wergamon.Core.Naming;

namespace Wergamon.Core.Planning;

/// <summary>What a plan tells about one track.</summary>
internal static class PlanNotes
{
    public static IEnumerable<PlanNote> On(PlanSource source, Route route, Target target)
    {
        bool lossySource = source.Fidelity == Fidelity.Lossy;
        var rate = source.Facts.IsLossless ? "" : string.Create(CultureInfo.InvariantCulture, $" at {source.Facts.KilobitsPerSecond}");
        if (lossySource && route.AddedGenerations > 0)
            yield return new PlanNote(
                PlanWarning.LossyToLossy,
                $"{Ordinal(Math.Max(1, source.Generation) + 1)} lossy pass: detail lost{rate} cannot be restored, and more is lost");
        if (lossySource && !target.IsLossy)
            yield return new PlanNote(PlanWarning.LossyToLossless, $"Larger, not better: detail lost{rate} cannot be restored");
        if (route.Output.Rate.Hertz > source.Facts.Format.Rate.Hertz && target.Rate is not null)
            yield return new PlanNote(PlanWarning.NothingGained, $"{route.Output.Rate} gains nothing over {source.Facts.Format.Rate}");
        else if (!target.IsLossy && target.Bits is { } bits && source.Facts is { IsLossless: true, Format.IsFloat: false }
            && bits > source.Facts.Format.Bits)
            yield return new PlanNote(
                PlanWarning.NothingGained,
                string.Create(CultureInfo.InvariantCulture, $"{bits} bits gain nothing over {source.Facts.Format.Bits}"));
        else if (lossySource && route.AddedGenerations > 0 && target.Encoder.MeanKilobits(route.Output) is { } kilobits
            && kilobits > source.Facts.KilobitsPerSecond && source.Facts.KilobitsPerSecond > 0)
            yield return new PlanNote(
                PlanWarning.NothingGained,
                string.Create(CultureInfo.InvariantCulture, $"{kilobits} kbit/s gain nothing over {source.Facts.KilobitsPerSecond}"));
        foreach (var note in ClippingNotes.On(source, route, target))
            yield return note;
        if (target.Format.TagAdvice is { } advice && source.Contents.Count > 0)
            yield return new PlanNote(PlanWarning.TagsHeldBadly, advice);
        var contents = Planner.ContentsFor(source, target);
        int lost = contents.Count - target.Format.Dialect.CountHeld(contents);
        if (lost > 0)
            yield return new PlanNote(
                PlanWarning.TagsNotHeld,
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"{Plural.Count(lost, "tag")} of the source cannot be held by "
                        + $"{target.Format.Name}{NamesOf(target.Format.Dialect.NotHeld(contents).ToList())}"));
        if (source.TagsFromName > 0)
            yield return new PlanNote(
                PlanWarning.TagsFromFileName,
                string.Create(CultureInfo.InvariantCulture, $"{Plural.Count(source.TagsFromName, "tag")} from the file name"));
        if (source.Facts.Damage.Count > 0)
            yield return new PlanNote(PlanWarning.SourceDamaged, "The source is damaged: " + source.Facts.Damage[0]);
    }

    /// <summary>": Rating, Mood and 2 more"; nothing without names.</summary>
    private static string NamesOf(List<string> names)
    {
        const int MaxNamed = 3;
        return names.Count == 0
            ? ""
            : ": " + string.Join(", ", names.Take(MaxNamed))
                + (names.Count > MaxNamed ? string.Create(CultureInfo.InvariantCulture, $" and {names.Count - MaxNamed} more") : "");
    }

    private static string Ordinal(int number) => number switch
    {
        2 => "Second",
        3 => "Third",
        4 => "Fourth",
        _ => string.Create(CultureInfo.InvariantCulture, $"{number}th"),
    };
}
