using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Wergamon.Web.Pages;

/// <summary>The station that is not built yet: what will be there, and what to use until then.</summary>
public sealed class LaterModel : PageModel;
