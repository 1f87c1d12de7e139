using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Bench;

namespace Wergamon.Web.Pages.Bench;

/// <summary>The questions that the Bench answers, and the last answers.</summary>
public sealed class IndexModel(NullTests tests, BenchRails rails) : PageModel
{
    private const int AnswersShown = 6;

    public BenchRail Rail { get; private set; } = null!;

    public IReadOnlyList<BenchQuestion> Questions { get; private set; } = [];

    /// <summary>The newest of each kind.</summary>
    public IReadOnlyList<BenchAnswer> Answers { get; private set; } = [];

    [TempData]
    public string? Message { get; set; }

    public void OnGet()
    {
        Rail = rails.Make();
        Questions = BenchQuestion.All(Rail);
        Answers = [
            .. Rail.Tests.Take(AnswersShown).Select(BenchAnswer.Of), .. Rail.Passes.Take(AnswersShown).Select(BenchAnswer.Of),
            .. Rail.BlindTests.Take(AnswersShown).Select(BenchAnswer.Of),
        ];
    }

    /// <summary>Compares a copy with the one that it was made from.</summary>
    public IActionResult OnPostSource(long copy)
    {
        if (tests.StartWithSource(copy) is { } id)
            return Redirect($"/bench/tests/{id}");
        Message = "The file that this copy was made from is missing or no longer in the library.";
        return Redirect("/bench");
    }

    public IActionResult OnPostCompare(long first, long second, bool level)
    {
        if (first == second)
            Message = "Choose two different copies.";
        else if (tests.Start(first, second, level) is { } id)
            return Redirect($"/bench/tests/{id}");
        else
            Message = "One of these files is missing or no longer in the library.";
        return Redirect("/bench");
    }
}
