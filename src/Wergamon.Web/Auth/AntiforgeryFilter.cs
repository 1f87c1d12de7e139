using Microsoft.AspNetCore.Antiforgery;

namespace Wergamon.Web.Auth;

/// <summary>Refuses changes that another site's page has sent. Stands before every endpoint that is no page; pages have the framework's own.</summary>
internal sealed class AntiforgeryFilter(IAntiforgery antiforgery) : IEndpointFilter
{
    public async ValueTask<object?> InvokeAsync(EndpointFilterInvocationContext context, EndpointFilterDelegate next)
    {
        var request = context.HttpContext.Request;
        if (HttpMethods.IsGet(request.Method) || HttpMethods.IsHead(request.Method) || await antiforgery.IsRequestValidAsync(context.HttpContext))
            return await next(context);
        return TypedResults.BadRequest();
    }
}
