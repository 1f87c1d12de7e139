using Wergamon.App.Bench;
using Wergamon.Core.Naming;

namespace Wergamon.Web.Pages.Bench;

/// <summary>Something that the Bench has found out.</summary>
/// <param name="What">The formats or targets compared.</param>
/// <param name="Words">What came of it.</param>
public sealed record BenchAnswer(string Title, string What, string Words, string Address)
{
    public static BenchAnswer Of(NullTestRecord test) => new(
        test.Title, $"{test.First.Format} and {test.Second.Format}", BenchLabels.Verdict(test), $"/bench/tests/{test.Id}");

    public static BenchAnswer Of(PassesLine passes) => new(
        passes.Title, passes.Targets, $"{passes.Count:N0} {(passes.Count == 1 ? "pass" : "passes")}", $"/bench/passes/{passes.Id}");

    public static BenchAnswer Of(BlindTestRecord blind) => new(
        blind.Test.Title, $"blind, {blind.Test.First.Format} and {blind.Test.Second.Format}",
        blind.IsOver
            ? $"{blind.Right} of {blind.Trials} right, {BenchLabels.Chance(blind.ByGuessing)} by guessing"
            : $"trial {blind.Current} of {blind.Trials}",
        $"/bench/blind/{blind.Id}");
}

/// <summary>A question that the Bench answers.</summary>
/// <param name="Drawing">Its drawing: name of the part that has it.</param>
/// <param name="State">What is known so far; empty for nothing.</param>
public sealed record BenchQuestion(string Drawing, string Title, string What, string State, string Address)
{
    public static IReadOnlyList<BenchQuestion> All(BenchRail rail)
    {
        var (found, blind) = (rail.Inspections, rail.BlindTests);
        return
        [
            new(
                "residue", "Does it lose anything?", "One copy is subtracted from another, sample by sample. The residue is what differs.",
                "Compare two copies", "/bench/compare"),
            new(
                "passes", "How much over many passes?", "A sound is encoded again and again. See and hear what each pass loses.",
                "Choose a track and targets", "/bench/passes"),
            new(
                "spectrum", "Is it what it says?",
                "A lossless file can come from a lossy one, and 24 bits can hold 16. The sound shows it.",
                found.Inspected == 0 ? "Nothing checked yet"
                    : $"{found.Sure:N0} not as they say, {found.Unsure:N0} unsure"
                        + (found.Left > 0 ? $", {Plural.Count(found.Left, "file")} not checked" : ""),
                "/bench/findings"),
            new(
                "blind", "Can I hear it?", "A blind test: which of two sounds is X? It begins on the page of a comparison.",
                blind.FirstOrDefault(test => test.IsOver) is { } last ? $"Last: {last.Right} of {last.Trials} right" : "No test yet",
                rail.Tests.FirstOrDefault(test => test.Result is not null) is { } latest
                    ? $"/bench/tests/{latest.Id}"
                    : "/bench/compare"),
        ];
    }
}
