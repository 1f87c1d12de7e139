using Microsoft.AspNetCore.Http.Features;
using Microsoft.Extensions.Options;
using Microsoft.Extensions.Primitives;
using Wergamon.Core.Bytes;

namespace Wergamon.Web.Auth;

/// <summary>
/// The door for text of requests: query, form and route reach pages well formed and bounded. A form that cannot be read, or a text that is
/// too long, is the request's fault: 400.
/// </summary>
internal static class WellFormedRequests
{
    public static IApplicationBuilder UseWellFormedRequests(this IApplicationBuilder app)
    {
        var limits = app.ApplicationServices.GetRequiredService<IOptions<FormOptions>>().Value;
        return app.Use((context, next) =>
        {
            Mend(context, limits);
            return next();
        });
    }

    private static void Mend(HttpContext context, FormOptions limits)
    {
        var request = context.Request;
        if (request.Query.Any(IsUnfit))
            request.Query = new QueryCollection(Mend(request.Query));
        foreach (var (name, value) in request.RouteValues.Where(pair => pair.Value is string text && !WellFormedText.IsWellFormed(text))
            .ToList())
            request.RouteValues[name] = WellFormedText.From((string)value!);
        if (request.HasFormContentType)
            context.Features.Set<IFormFeature>(
                new WellFormedForm(context.Features.Get<IFormFeature>() ?? new FormFeature(request, limits)));
    }

    private static bool IsUnfit(KeyValuePair<string, StringValues> pair) => !IsName(pair.Key) || pair.Value.Any(value => !IsFit(value));

    /// <summary>None of our fields has brackets in its name, and binding throws if they do not match.</summary>
    private static bool IsName(string key) => IsFit(key) && !key.AsSpan().ContainsAny('[', ']');

    /// <summary>The fields with well-formed names and values; others are not ours and are dropped.</summary>
    private static Dictionary<string, StringValues> Mend(IEnumerable<KeyValuePair<string, StringValues>> fields) =>
        fields.Where(pair => IsName(pair.Key)).ToDictionary(pair => pair.Key, pair => Mend(pair.Value), StringComparer.OrdinalIgnoreCase);

    private static bool IsFit(string? text) => text is null || (WellFormedText.IsWellFormed(text) && text.Length <= Limits.MaxTypedText);

    private static StringValues Mend(StringValues values) => new([.. values.Select(value => value is null ? null : Mend(value))]);

    private static string Mend(string text) => text.Length <= Limits.MaxTypedText
        ? WellFormedText.From(text)
        : throw new BadHttpRequestException($"A text of this request is longer than {Limits.MaxTypedText:N0} characters.");

    /// <summary>Reads a form as its inner feature does, and makes its texts well formed.</summary>
    private sealed class WellFormedForm(IFormFeature inner) : IFormFeature
    {
        private IFormCollection? _form;

        public bool HasFormContentType => inner.HasFormContentType;

        public IFormCollection? Form
        {
            get => _form;
            set => _form = value;
        }

        public IFormCollection ReadForm()
        {
            try
            {
                return _form ??= Mended(inner.ReadForm());
            }
            catch (Exception failure) when (IsUnreadable(failure))
            {
                throw Unreadable(failure);
            }
        }

        public async Task<IFormCollection> ReadFormAsync(CancellationToken cancellationToken)
        {
            try
            {
                return _form ??= Mended(await inner.ReadFormAsync(cancellationToken));
            }
            catch (Exception failure) when (IsUnreadable(failure))
            {
                throw Unreadable(failure);
            }
        }

        private static IFormCollection Mended(IFormCollection form) =>
            form.Any(IsUnfit) ? new FormCollection(Mend(form), form.Files) : form;

        /// <summary>What the framework throws over broken parts, wrong lengths, too many keys and bodies that end early.</summary>
        private static bool IsUnreadable(Exception failure) =>
            failure is InvalidDataException or IOException and not BadHttpRequestException or FormatException or ArgumentException;

        private static BadHttpRequestException Unreadable(Exception failure) => new(
            "The form of this request cannot be read: " + failure.Message,
            failure is InvalidDataException && failure.Message.Contains("limit", StringComparison.Ordinal)
                ? StatusCodes.Status413PayloadTooLarge
                : StatusCodes.Status400BadRequest,
            failure);
    }
}
