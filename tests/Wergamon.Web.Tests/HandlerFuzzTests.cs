using System.Net.Http.Json;
using System.Reflection;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;
using Microsoft.AspNetCore.Http;
using Microsoft.AspNetCore.Mvc.Infrastructure;
using Microsoft.AspNetCore.Mvc.ModelBinding;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.Mvc.RazorPages.Infrastructure;

namespace Wergamon.Web.Tests;

/// <summary>
/// Every handler of every page with values that no page of ours would send: each is answered, and none is a failure of the server.
/// </summary>
public sealed partial class HandlerFuzzTests
{
    private static readonly string[] Values =
    [
        "-2147483648", "2147483647", "-9223372036854775808", "99999999999999999999", "-1", "0", "1", "1e308", "NaN", "-Infinity", "0.1",
        "x", "", "true", "/", "../../etc", "1,2,-3,99999999999999999999", "\uFFFE", "{}", "=1+1",
    ];

    [Fact]
    public async Task No_value_of_a_form_or_an_address_is_a_failure_of_the_server()
    {
        await using var server = await InProcessServer.StartAsync();
        foreach (var title in (string[])["01 Cage", "02 Winch"])
            server.AddFile($"Tin Orchard - Carts (2020)/{title}.wav", 44_100);
        await server.ScanAsync();
        using (await server.PostAsync("library/tracks", "convert?handler=Create", ("numbers", "1,2")))
        using (await server.PostAsync("library/tracks", "tags?handler=Create", ("numbers", "1,2")))
        using (await server.PostAsync("library/tracks", "sets?handler=New", ("numbers", "1,2")))
        using (await server.PostAsync("library/tracks", "deliver?handler=Tracks&kind=Audio", ("list", "?"), ("numbers", "1,2")))
        {
            var (token, cookies) = await TokenAsync(server);
            var failures = new List<string>();
            int turn = 0;
            foreach (var (address, handler, isPost, names) in await HandlersAsync(server))
            {
                foreach (var value in ValuesFor(turn++))
                {
                    var fields = names.Select(name => KeyValuePair.Create(name, value))
                        .Append(new("__RequestVerificationToken", token))
                        .ToList();
                    var query = handler.Length > 0 ? $"?handler={handler}" : "";
                    var asked = string.Join('&', names.Select(name => $"{name}={Uri.EscapeDataString(value)}"));
                    using var request = isPost
                        ? new HttpRequestMessage(HttpMethod.Post, address + query) { Content = new FormUrlEncodedContent(fields) }
                        : new HttpRequestMessage(HttpMethod.Get, $"{address}{(query.Length > 0 ? query : "?")}&{asked}");
                    request.Headers.Add("Cookie", cookies);
                    // Without a page to lead to, as parts of pages are asked for.
                    request.Headers.Add("HX-Request", "true");
                    try
                    {
                        using var reply = await server.Client.SendAsync(request, HttpCompletionOption.ResponseHeadersRead);
                        if ((int)reply.StatusCode is >= 500 and not 503)
                            failures.Add($"{(isPost ? "POST" : "GET")} {address}{query} with {value}: {(int)reply.StatusCode}");
                    }
                    catch (Exception failure)
                    {
                        var place = failure.StackTrace?.Split('\n')
                            .FirstOrDefault(line => line.Contains("Wergamon", StringComparison.Ordinal));
                        failures.Add(
                            $"{(isPost ? "POST" : "GET")} {address}{query} with {value}: {failure.GetType().Name} {failure.Message} "
                                + $"{place}");
                    }
                }
            }

            Assert.True(failures.Count == 0, string.Join('\n', failures));
            using var page = await server.Client.GetAsync("library");
            Assert.True(page.IsSuccessStatusCode);
        }
    }

    /// <summary>Four for each handler, others for the next; all of them with WERGAMON_KILLS.</summary>
    private static IEnumerable<string> ValuesFor(int turn) =>
        Environment.GetEnvironmentVariable("WERGAMON_KILLS") is not null
            ? Values
            : Enumerable.Range(0, 4).Select(i => Values[(turn + i * Values.Length / 4) % Values.Length]);

    private static async Task<(string Token, string Cookies)> TokenAsync(InProcessServer server)
    {
        using var reply = await server.Client.GetAsync("uploads");
        var token = (await reply.Content.ReadFromJsonAsync<JsonNode>())!["token"]!.GetValue<string>();
        return (token, string.Join("; ", reply.Headers.GetValues("Set-Cookie").Select(cookie => cookie.Split(';')[0])));
    }

    private static async Task<List<(string Address, string Handler, bool IsPost, IReadOnlyList<string> Names)>> HandlersAsync(
        InProcessServer server)
    {
        var loader = server.Get<PageLoader>();
        var found = new List<(string, string, bool, IReadOnlyList<string>)>();
        foreach (var page in server.Get<IActionDescriptorCollectionProvider>().ActionDescriptors.Items.OfType<PageActionDescriptor>()
            .DistinctBy(page => page.AttributeRouteInfo!.Template))
        {
            var compiled = await loader.LoadAsync(page, EndpointMetadataCollection.Empty);
            var address = Parameter().Replace(page.AttributeRouteInfo!.Template!, match => match.Groups["name"].Value == "id" ? "1" : "");
            foreach (var handler in compiled.HandlerMethods.Where(
                handler => handler.Parameters.All(parameter => parameter.BindingInfo?.BindingSource != BindingSource.Body)))
                found.Add(
                    (address.TrimEnd('/'), handler.Name ?? "", handler.HttpMethod == "Post",
                        [.. handler.Parameters.Cast<HandlerParameterDescriptor>().SelectMany(NamesOf).Distinct()]));
        }

        Assert.True(found.Count > 200, $"{found.Count} handlers");
        return found;
    }

    /// <summary>The names under which a parameter is bound: its own, or those of its members.</summary>
    private static IEnumerable<string> NamesOf(HandlerParameterDescriptor parameter)
    {
        var type = parameter.ParameterInfo.ParameterType;
        if (type.IsPrimitive || type.IsEnum || type == typeof(string) || type.IsArray || Nullable.GetUnderlyingType(type) is not null
            || type.Namespace?.StartsWith("Wergamon", StringComparison.Ordinal) != true)
            return [parameter.BindingInfo?.BinderModelName ?? parameter.Name];
        return type.GetProperties(BindingFlags.Public | BindingFlags.Instance).Where(property => property.CanWrite)
            .Select(
                property => property.GetCustomAttributes().OfType<IModelNameProvider>().FirstOrDefault(each => each.Name is not null)?.Name
                    ?? property.Name);
    }

    [GeneratedRegex(@"\{(?<name>\w+)[^}]*\}")]
    private static partial Regex Parameter();
}
