namespace Wergamon.Web.Display;

/// <summary>Light or dark, as chosen in this browser.</summary>
public static class Theme
{
    private const string Cookie = "theme";

    private static readonly TimeSpan Kept = TimeSpan.FromDays(400);

    /// <summary>"light" or "dark"; null for the system's setting.</summary>
    public static string? Of(HttpContext context) =>
        context.Request.Cookies[Cookie] is "light" or "dark" ? context.Request.Cookies[Cookie] : null;

    /// <summary>Anything but "light" and "dark" leaves it to the system.</summary>
    public static void Choose(HttpContext context, string? theme)
    {
        if (theme is "light" or "dark")
            context.Response.Cookies.Append(
                Cookie, theme, new CookieOptions { MaxAge = Kept, SameSite = SameSiteMode.Strict, HttpOnly = true });
        else
            context.Response.Cookies.Delete(Cookie);
    }
}
