using Microsoft.AspNetCore.Antiforgery;

namespace Wergamon.Web.Auth;

/// <summary>Refuses cross-site changes. Applied to every endpoint that is not a page; pages have the framework's own check.</summary>
internal sealed class AntiforgeryFilter(IAntiforgery antiforgery) : IEndpointFilter
{
    public async ValueTask<object?> InvokeAsync(EndpointFilterInvocationContext context, EndpointFilterDelegate next)
    {
        var request = context.HttpContext.Request;
        if (HttpMethods.IsGet(request.Method) || HttpMethods.IsHead(request.Method)
            || await antiforgery.IsRequestValidAsync(context.HttpContext))
            return await next(context);
        return TypedResults.BadRequest();
    }
}
