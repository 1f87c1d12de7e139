using System.Globalization;
using Wergamon.App.Storage;

namespace Wergamon.Web.Auth;

/// <summary>Rejects requests that no browser on this machine sends: other host names, other ports, other methods.</summary>
internal static class RequestGuard
{
    /// <summary>How long a page waits for a busy database before it says so.</summary>
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(8);

    private static readonly HashSet<string> Hosts = new(StringComparer.OrdinalIgnoreCase) { "127.0.0.1", "localhost" };

    private static readonly HashSet<string> Methods = ["GET", "HEAD", "POST", "PUT"];

    public static IApplicationBuilder UseRequestGuard(this IApplicationBuilder app, int port) => app.Use((context, next) =>
    {
        // Names that resolve to this machine, but are not its own, come from pages of other sites (DNS rebinding).
        if (!IsOwn(context.Request.Headers.Host.ToString(), port))
            return Refuse(context, StatusCodes.Status400BadRequest);
        if (!Methods.Contains(context.Request.Method))
            return Refuse(context, StatusCodes.Status405MethodNotAllowed);
        Database.LimitPatience(Patience);
        return next();
    });

    internal static bool IsOwn(string host, int port)
    {
        int colon = host.LastIndexOf(':');
        return colon < 0
            ? port == 80 && Hosts.Contains(host)
            : Hosts.Contains(host[..colon]) && host[(colon + 1)..] == port.ToString(CultureInfo.InvariantCulture);
    }

    private static Task Refuse(HttpContext context, int status)
    {
        context.Response.StatusCode = status;
        return Task.CompletedTask;
    }
}
