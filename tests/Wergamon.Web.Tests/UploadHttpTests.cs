using System.Net;
using System.Net.Http.Headers;
using System.Text;
using System.Text.Json.Nodes;

namespace Wergamon.Web.Tests;

/// <summary>Files over HTTP: offered, sent in pieces, refused where something is wrong with the request.</summary>
public sealed class UploadHttpTests
{
    private const string Piece = "application/octet-stream";

    [Fact]
    public async Task A_file_arrives_in_pieces_and_a_piece_for_the_wrong_place_is_refused()
    {
        await using var server = await InProcessServer.StartAsync();
        var (token, folder) = await BeginAsync(server);
        var offer = await JsonAsync(
            await OfferAsync(server, token, $$"""{"folder":{{folder}},"files":[{"path":"Carts/01.wav","bytes":10}]}"""));
        long id = (long)offer["files"]![0]!["id"]!;

        Assert.Equal(4, (long)(await JsonAsync(await SendAsync(server, token, id, 0, "0123")))["received"]!);
        var wrong = await JsonAsync(await SendAsync(server, token, id, 6, "6789"));
        Assert.Equal(("WrongPlace", 4), ((string)wrong["state"]!, (long)wrong["received"]!));
        await SendAsync(server, token, id, 4, "456789");
        Assert.Equal("0123456789", await File.ReadAllTextAsync(Path.Combine(server.Music, "Carts", "01.wav")));
        Assert.Equal(HttpStatusCode.NotFound, (await SendAsync(server, token, id, 0, "0123")).StatusCode);
    }

    [Theory]
    [InlineData("")]
    [InlineData("null")]
    [InlineData("{")]
    [InlineData("[]")]
    [InlineData("""{"folder":1,"files":null}""")]
    [InlineData("""{"folder":1,"files":[null]}""")]
    [InlineData("""{"folder":1,"files":[{"bytes":1}]}""")]
    [InlineData("""{"folder":"one","files":[]}""")]
    [InlineData("""{"folder":1,"files":[{"path":"a","bytes":1e99}]}""")]
    public async Task An_invalid_offer_is_a_bad_request(string json)
    {
        await using var server = await InProcessServer.StartAsync();
        var (token, _) = await BeginAsync(server);
        Assert.Equal(HttpStatusCode.BadRequest, (await OfferAsync(server, token, json)).StatusCode);
    }

    /// <summary>A lone surrogate is not text, and not a file name.</summary>
    [Theory]
    [InlineData("\\ud800")]
    [InlineData("a\\udc00.wav")]
    [InlineData("\\udc00\\ud800")]
    public async Task A_lone_surrogate_in_a_name_is_a_bad_request(string name)
    {
        await using var server = await InProcessServer.StartAsync();
        var (token, folder) = await BeginAsync(server);
        using var reply = await OfferAsync(server, token, $$"""{"folder":{{folder}},"files":[{"path":"{{name}}","bytes":1}]}""");
        Assert.True((int)reply.StatusCode < 500, $"{(int)reply.StatusCode}");
        if (reply.StatusCode == HttpStatusCode.OK && (long?)(await JsonAsync(reply))["files"]?[0]?["id"] is { } id)
        {
            Assert.Equal(HttpStatusCode.OK, (await SendAsync(server, token, id, 0, "1")).StatusCode);
            Assert.Single(Directory.GetFiles(server.Music));
        }
    }

    [Fact]
    public async Task Changes_need_the_token()
    {
        await using var server = await InProcessServer.StartAsync();
        Assert.Equal(HttpStatusCode.BadRequest, (await OfferAsync(server, "forged", """{"folder":1,"files":[]}""")).StatusCode);
        Assert.Equal(HttpStatusCode.BadRequest, (await SendAsync(server, "forged", 1, 0, "x")).StatusCode);
    }

    private static async Task<(string Token, long Folder)> BeginAsync(InProcessServer server)
    {
        using var reply = await server.Client.GetAsync("uploads");
        server.Client.DefaultRequestHeaders.Add("Cookie", reply.Headers.GetValues("Set-Cookie").Select(cookie => cookie.Split(';')[0]));
        var start = await JsonAsync(reply);
        return ((string)start["token"]!, (long)start["folders"]![0]!["id"]!);
    }

    private static Task<HttpResponseMessage> OfferAsync(InProcessServer server, string token, string json) =>
        AskAsync(server, HttpMethod.Post, "uploads", token, new StringContent(json, Encoding.UTF8, "application/json"));

    private static Task<HttpResponseMessage> SendAsync(InProcessServer server, string token, long id, long at, string bytes) =>
        AskAsync(server, HttpMethod.Put, $"uploads/{id}?at={at}", token, new StringContent(bytes, new MediaTypeHeaderValue(Piece)));

    private static async Task<HttpResponseMessage> AskAsync(
        InProcessServer server, HttpMethod method, string path, string token, HttpContent content)
    {
        using var request = new HttpRequestMessage(method, path) { Content = content };
        request.Headers.Add("RequestVerificationToken", token);
        return await server.Client.SendAsync(request);
    }

    private static async Task<JsonNode> JsonAsync(HttpResponseMessage reply) => JsonNode.Parse(await reply.Content.ReadAsStringAsync())!;
}
