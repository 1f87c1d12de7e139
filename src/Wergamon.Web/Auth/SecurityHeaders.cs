namespace Wergamon.Web.Auth;

internal static class SecurityHeaders
{
    /// <summary>Everything comes from this server; nothing inline, nothing framed, no referrer.</summary>
    public static IApplicationBuilder UseSecurityHeaders(this IApplicationBuilder app) => app.Use((context, next) =>
    {
        var headers = context.Response.Headers;
        headers.ContentSecurityPolicy = "default-src 'self'; frame-ancestors 'none'; base-uri 'none'; form-action 'self'; object-src "
            + "'none'";
        headers.XContentTypeOptions = "nosniff";
        headers["Referrer-Policy"] = "same-origin";
        return next();
    });
}
