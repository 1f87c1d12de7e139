using System.Text.Json;
using Wergamon.App.Storage;

namespace Wergamon.Web.Auth;

/// <summary>Status of a failed request: 4xx when the request is at fault, 5xx when this machine is.</summary>
internal static class RequestFailures
{
    /// <summary>The error of a full disk on Linux, as .NET reports it.</summary>
    private const int NoSpace = 28;

    public static ExceptionHandlerOptions Options { get; } = new()
    {
        ExceptionHandlingPath = "/error",
        StatusCodeSelector = StatusOf,
        AllowStatusCode404Response = true
    };

    internal static int StatusOf(Exception failure) => failure switch
    {
        BadHttpRequestException request => request.StatusCode,
        StorageProblemException => StatusCodes.Status503ServiceUnavailable,
        JsonException => StatusCodes.Status400BadRequest,
        InvalidDataException => StatusCodes.Status413PayloadTooLarge,
        UnauthorizedAccessException => StatusCodes.Status403Forbidden,
        LinkRefusedException or FileNotFoundException or DirectoryNotFoundException => StatusCodes.Status404NotFound,
        IOException { HResult: NoSpace } => StatusCodes.Status507InsufficientStorage,
        _ => StatusCodes.Status500InternalServerError,
    };
}
