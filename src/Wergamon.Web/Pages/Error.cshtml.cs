using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Wergamon.Web.Pages;

/// <summary>What is shown when a page cannot be. Answers whatever the request was, changes nothing.</summary>
[IgnoreAntiforgeryToken]
public sealed class ErrorModel : PageModel
{
    [BindProperty(SupportsGet = true)]
    public int Status { get; set; } = 500;
}
