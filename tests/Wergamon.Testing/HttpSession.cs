using System.Net;
using System.Text.RegularExpressions;

namespace Wergamon.Testing;

/// <summary>Requests pages without a browser, with their antiforgery tokens.</summary>
public sealed partial class HttpSession(Uri address) : IDisposable
{
    private readonly HttpClient _client = new(new HttpClientHandler { CookieContainer = new CookieContainer() }) { BaseAddress = address };

    public Task<string> GetAsync(string path) => _client.GetStringAsync(path);

    public Task<byte[]> GetBytesAsync(string path) => _client.GetByteArrayAsync(path);

    /// <summary>Sends the form of a page and returns where that leads.</summary>
    /// <param name="page">Where the form stands.</param>
    public async Task<string> PostAsync(string page, string action, params (string Name, string Value)[] fields)
    {
        var token = Token().Match(await GetAsync(page)).Groups[1].Value;
        using var form = new FormUrlEncodedContent(
            [new("__RequestVerificationToken", token), .. fields.Select(field => KeyValuePair.Create(field.Name, field.Value))]);
        using var response = await _client.PostAsync(action, form);
        response.EnsureSuccessStatusCode();
        return response.RequestMessage!.RequestUri!.PathAndQuery;
    }

    /// <summary>Requests a page until it contains some text.</summary>
    public async Task UntilAsync(string path, string text)
    {
        using var limit = new CancellationTokenSource(TimeSpan.FromMinutes(4));
        string page;
        while (!(page = await GetAsync(path)).Contains(text, StringComparison.Ordinal))
        {
            if (limit.IsCancellationRequested)
                throw new TimeoutException($"{path} never said “{text}”. At last it said:\n{page}");
            await Task.Delay(50);
        }
    }

    public void Dispose() => _client.Dispose();

    [GeneratedRegex("name=\"__RequestVerificationToken\" type=\"hidden\" value=\"([^\"]+)\"")]
    private static partial Regex Token();
}
