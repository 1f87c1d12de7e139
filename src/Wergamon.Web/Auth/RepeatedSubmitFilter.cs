using System.Collections.Concurrent;
using System.IO.Hashing;
using System.Text;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;

namespace Wergamon.Web.Auth;

/// <summary>
/// A form that is submitted repeatedly from the same page is carried out once: the other requests are redirected where the
/// first one was. The token in the form identifies the page; a reloaded page can submit the same again.
/// </summary>
internal sealed class RepeatedSubmitFilter(TimeProvider time) : IAsyncPageFilter
{
    /// <summary>Longer than anybody goes on clicking.</summary>
    private static readonly TimeSpan KeptFor = TimeSpan.FromSeconds(30);

    private const int MaxKept = 1000;

    private readonly ConcurrentDictionary<UInt128, Submit> _submits = new();

    public Task OnPageHandlerSelectionAsync(PageHandlerSelectedContext context) => Task.CompletedTask;

    public async Task OnPageHandlerExecutionAsync(PageHandlerExecutingContext context, PageHandlerExecutionDelegate next)
    {
        var request = context.HttpContext.Request;
        // Parts of a page that scripts request have no page to redirect to; a failure is only reported.
        if (context.HandlerMethod is null || context.Result is not null || !HttpMethods.IsPost(request.Method)
            || !request.HasFormContentType || request.Headers.ContainsKey("HX-Request") || !await HasTokenAsync(request))
        {
            await next();
            return;
        }

        DropOld();
        var own = new Submit(time.GetTimestamp());
        var first = _submits.GetOrAdd(KeyOf(request), own);
        if (first != own && await first.Led.Task.WaitAsync(context.HttpContext.RequestAborted) is { } result)
        {
            context.Result = result;
            return;
        }

        IActionResult? led = null;
        try
        {
            var executed = await next();
            led = executed.Exception is null && executed.Result is RedirectResult or RedirectToPageResult or LocalRedirectResult
                ? executed.Result
                : null;
        }
        finally
        {
            own.Led.TrySetResult(led);
            if (led is null)
                _submits.TryRemove(KeyValuePair.Create(KeyOf(request), own));
        }
    }

    /// <summary>False for a form that cannot be read, which is rejected elsewhere.</summary>
    private static async Task<bool> HasTokenAsync(HttpRequest request)
    {
        try
        {
            return (await request.ReadFormAsync()).ContainsKey("__RequestVerificationToken");
        }
        catch (BadHttpRequestException)
        {
            return false;
        }
    }

    private static UInt128 KeyOf(HttpRequest request)
    {
        var hash = new XxHash128();
        void Add(string? text) => hash.Append(Encoding.UTF8.GetBytes($"{text?.Length}:{text}\n"));
        Add(request.Path);
        Add(request.QueryString.Value);
        foreach (var (name, values) in request.Form)
        {
            Add(name);
            foreach (var value in values)
                Add(value);
        }

        foreach (var file in request.Form.Files)
            Add($"{file.Name} {file.FileName} {file.Length}");
        return hash.GetCurrentHashAsUInt128();
    }

    private void DropOld()
    {
        if (_submits.Count < MaxKept && _submits.Values.All(submit => time.GetElapsedTime(submit.Begun) < KeptFor))
            return;
        foreach (var old in _submits.Where(each => each.Value.Led.Task.IsCompleted && time.GetElapsedTime(each.Value.Begun) >= KeptFor))
            _submits.TryRemove(old);
    }

    private sealed class Submit(long begun)
    {
        public long Begun { get; } = begun;

        /// <summary>Where the first one was redirected; null if it was not.</summary>
        public TaskCompletionSource<IActionResult?> Led { get; } = new(TaskCreationOptions.RunContinuationsAsynchronously);
    }
}
