using System.Collections.Concurrent;
using System.Reflection;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;
using Microsoft.AspNetCore.Mvc.ModelBinding;
using Microsoft.AspNetCore.Mvc.RazorPages.Infrastructure;

namespace Wergamon.Web.Auth;

/// <summary>
/// Answers bad requests for all pages: 404 for a handler that a page does not have, 400 for a form or body that cannot be read or does not
/// fit the handler.
/// </summary>
internal sealed class PageRequestFilter : IPageFilter
{
    private static readonly ConcurrentDictionary<ParameterInfo, bool> NeedsValue = new();

    public void OnPageHandlerSelected(PageHandlerSelectedContext context) { }

    public void OnPageHandlerExecuting(PageHandlerExecutingContext context)
    {
        // Pages without handlers, such as the error page, answer anything.
        if (context.ActionDescriptor.HandlerMethods.Count == 0)
            return;
        var request = context.HttpContext.Request;
        var asked = request.Query["handler"].FirstOrDefault() ?? context.RouteData.Values["handler"] as string ?? "";
        bool isPlain = asked.Length == 0 && (HttpMethods.IsGet(request.Method) || HttpMethods.IsHead(request.Method));
        if (!(context.HandlerMethod is { } handler ? asked.Equals(handler.Name ?? "", StringComparison.OrdinalIgnoreCase) : isPlain))
            context.Result = new NotFoundResult();
        // Values that could not be read at all have no name among the errors of binding.
        else if (context.ModelState.TryGetValue("", out var whole) && whole.Errors.Count > 0)
            context.Result = new BadRequestResult();
        else if (context.HandlerMethod?.Parameters.Any(parameter => IsUnfit(parameter, context.HandlerArguments)) == true)
            context.Result = new BadRequestResult();
    }

    public void OnPageHandlerExecuted(PageHandlerExecutedContext context) { }

    /// <summary>A missing body, or null for a handler parameter that cannot be null.</summary>
    private static bool IsUnfit(HandlerParameterDescriptor parameter, IDictionary<string, object?> arguments)
    {
        bool isBound = arguments.TryGetValue(parameter.Name, out var value);
        if (value is not null)
            return false;
        if (parameter.BindingInfo?.BindingSource == BindingSource.Body)
            return true;
        // A value that was not sent gets its default; one that was sent as null is an error.
        return parameter.ParameterType.IsValueType
            ? isBound && Nullable.GetUnderlyingType(parameter.ParameterType) is null
            : parameter is HandlerParameterDescriptor { ParameterInfo: var info } && NeedsValue.GetOrAdd(info, CannotBeNull);
    }

    private static bool CannotBeNull(ParameterInfo parameter) =>
        !parameter.HasDefaultValue && new NullabilityInfoContext().Create(parameter).WriteState == NullabilityState.NotNull;
}
