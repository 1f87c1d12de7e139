using Microsoft.AspNetCore.Diagnostics;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Wergamon.Web.Pages;

/// <summary>Shown when a page fails. Answers any request, changes nothing.</summary>
[IgnoreAntiforgeryToken]
public sealed class ErrorModel : PageModel
{
    [BindProperty(SupportsGet = true)]
    public int Status { get; set; } = StatusCodes.Status500InternalServerError;

    private int Answer => HttpContext.Features.Get<IExceptionHandlerFeature>() is null ? Status : Response.StatusCode;

    public string Heading => Answer switch
    {
        404 => "There is nothing here",
        403 => "This place cannot be used",
        503 => "The library cannot be changed now",
        507 => "The disk is full",
        >= 400 and < 500 => "This request was not understood",
        _ => "Something went wrong",
    };

    public string Explanation => Answer switch
    {
        404 => "The address names an album, plan or run that does not exist, or no longer does.",
        403 => $"{HttpContext.Features.Get<IExceptionHandlerFeature>()?.Error.Message} Nothing was changed by this request.".TrimStart(),
        503 =>
            $"{HttpContext.Features.Get<IExceptionHandlerFeature>()?.Error.Message} Nothing was changed by this request; try again "
                + "afterwards.",
        507 => "There was no space for the upload. Free some space and try again.",
        413 => "It holds more than Wergamon takes at a time. Nothing was changed.",
        >= 400 and < 500 => "It was incomplete or out of date. Nothing was changed; reload the page and try again.",
        _ => "The request could not be carried out. No file was touched; the log in the data folder has the details.",
    };
}
