using Wergamon.App.Storage;

namespace Wergamon.Web.Display;

/// <summary>Which events a page shows already: those from before its request. The page asks for what came after.</summary>
internal static class LastEvents
{
    private static readonly object Key = new();

    /// <summary>Taken before anything is read for the page, so that a change in between is announced twice rather than never.</summary>
    public static void UseLastEvents(this WebApplication app) => app.Use((context, next) =>
    {
        context.Items[Key] = context.RequestServices.GetRequiredService<Signals>().Now;
        return next(context);
    });

    public static string? Of(HttpContext context) => context.Items[Key] as string;
}
