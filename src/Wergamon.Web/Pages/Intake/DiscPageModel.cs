using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Wergamon.Web.Pages.Intake;

/// <summary>A page about the disc in a drive.</summary>
public abstract class DiscPageModel(DiscViews views) : PageModel
{
    public DiscView View { get; private set; } = null!;

    /// <summary>Why an action was not carried out, or what to check.</summary>
    protected string? Refusal { get; set; }

    protected string? FolderRefusal { get; set; }

    /// <summary>The names that were typed and rejected.</summary>
    protected string? TypedNames { get; set; }

    /// <summary>False for an unknown drive.</summary>
    protected bool Load(string? drive, bool edit)
    {
        if (views.Read(drive, edit) is not { } view)
            return false;
        View = view with { Refusal = Refusal, FolderRefusal = FolderRefusal, TypedNames = TypedNames };
        return true;
    }

    /// <summary>
    /// Back to the disc; rendered directly when there is a message, since a redirect would lose it to the parts that refresh themselves.
    /// </summary>
    protected IActionResult Back(string? drive, bool edit = false)
    {
        if (Refusal is null && FolderRefusal is null)
            return edit ? RedirectToPage("/Intake/Discs", new { drive, edit }) : RedirectToPage("/Intake/Discs", new { drive });
        return Load(drive, edit) ? Page() : NotFound();
    }
}
