using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;
using Microsoft.AspNetCore.Mvc.ModelBinding;
using Microsoft.AspNetCore.Mvc.RazorPages.Infrastructure;

namespace Wergamon.Web.Auth;

/// <summary>
/// Answers for every page what no page can: 404 for a handler that it does not have, 400 for a form or body that cannot be read or does not fit
/// the handler.
/// </summary>
internal sealed class PageRequestFilter : IPageFilter
{
    public void OnPageHandlerSelected(PageHandlerSelectedContext context) { }

    public void OnPageHandlerExecuting(PageHandlerExecutingContext context)
    {
        // Pages without handlers, as that of errors, answer anything.
        if (context.ActionDescriptor.HandlerMethods.Count == 0)
            return;
        var request = context.HttpContext.Request;
        var asked = request.Query["handler"].FirstOrDefault() ?? context.RouteData.Values["handler"] as string ?? "";
        bool isPlain = asked.Length == 0 && (HttpMethods.IsGet(request.Method) || HttpMethods.IsHead(request.Method));
        if (!(context.HandlerMethod is { } handler ? asked.Equals(handler.Name ?? "", StringComparison.OrdinalIgnoreCase) : isPlain))
            context.Result = new NotFoundResult();
        // What could not be read at all has no name of its own among the errors of binding.
        else if (context.ModelState.TryGetValue("", out var whole) && whole.Errors.Count > 0)
            context.Result = new BadRequestResult();
        else if (context.HandlerMethod?.Parameters.Any(parameter => IsUnfit(parameter, context.HandlerArguments)) == true)
            context.Result = new BadRequestResult();
    }

    public void OnPageHandlerExecuted(PageHandlerExecutedContext context) { }

    /// <summary>A body that is missing, or nothing where the handler takes a value that cannot be nothing.</summary>
    private static bool IsUnfit(HandlerParameterDescriptor parameter, IDictionary<string, object?> arguments)
    {
        bool isGiven = arguments.TryGetValue(parameter.Name, out var value) && value is not null;
        return !isGiven && (parameter.BindingInfo?.BindingSource == BindingSource.Body
            || arguments.ContainsKey(parameter.Name) && parameter.ParameterType.IsValueType && Nullable.GetUnderlyingType(parameter.ParameterType) is null);
    }
}
