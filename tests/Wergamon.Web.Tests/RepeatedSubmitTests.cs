using System.Net;
using System.Text.RegularExpressions;
using Dapper;
using Wergamon.App.Copies;
using Wergamon.App.Storage;

namespace Wergamon.Web.Tests;

/// <summary>A form that is sent a hundred times from one page does its work once.</summary>
public sealed partial class RepeatedSubmitTests
{
    [Fact]
    public async Task A_hundred_equal_submits_are_one()
    {
        await using var server = await InProcessServer.StartAsync();
        server.AddFile("Tin Orchard - Carts (2020)/01 Cage.wav", 441_000);
        await server.ScanAsync();
        int before = server.Get<TargetChoices>().All().Count;
        foreach (var (page, action, fields) in ((string, string, (string, string)[])[])
        [
            ("library/tracks", "sets?handler=Create", [("title", "Night")]),
            ("library/tracks", "convert?handler=Create", [("title", "Plan"), ("numbers", "1")]),
            ("library/tracks", "tags?handler=Create", [("title", "Sheet"), ("numbers", "1")]),
            ("library/tracks", "deliver?handler=Tracks&kind=Audio", [("list", "?"), ("numbers", "1")]),
        ])
        {
            var replies = await SubmitAsync(server, page, action, fields);
            Assert.All(replies, reply => Assert.Equal((HttpStatusCode.Redirect, replies[0].Address), reply));
        }

        using var connection = server.Get<Database>().Open();
        Assert.Equal(
            (1, 1, 1, 1),
            connection.QuerySingle<(int, int, int, int)>(
                "SELECT (SELECT COUNT(*) FROM music_set), (SELECT COUNT(*) FROM plan), (SELECT COUNT(*) FROM tag_sheet), "
                    + "(SELECT COUNT(*) FROM delivery)"));
        Assert.Equal(before, server.Get<TargetChoices>().All().Count);
        // A page that was reloaded may do the same again.
        Assert.All(
            await SubmitAsync(server, "library/tracks", "convert?handler=Create", [("title", "Plan"), ("numbers", "1")]),
            reply => Assert.Equal(HttpStatusCode.Redirect, reply.Status));
        Assert.Equal(2, connection.ExecuteScalar<int>("SELECT COUNT(*) FROM plan"));
    }

    private static async Task<List<(HttpStatusCode Status, string? Address)>> SubmitAsync(
        InProcessServer server, string page, string action, (string Name, string Value)[] fields)
    {
        using var shown = await server.Client.GetAsync(page);
        var token = Token().Match(await shown.Content.ReadAsStringAsync()).Groups[1].Value;
        var cookies = string.Join("; ", shown.Headers.GetValues("Set-Cookie").Select(cookie => cookie.Split(';')[0]));
        var all = await Task.WhenAll(Enumerable.Range(0, 100).Select(async _ =>
        {
            using var request = new HttpRequestMessage(HttpMethod.Post, action)
            {
                Content = new FormUrlEncodedContent(
                    [new("__RequestVerificationToken", token), .. fields.Select(field => KeyValuePair.Create(field.Name, field.Value))]),
            };
            request.Headers.Add("Cookie", cookies);
            using var reply = await server.Client.SendAsync(request);
            return (reply.StatusCode, reply.Headers.Location?.OriginalString);
        }));
        return [.. all];
    }

    [GeneratedRegex("name=\"__RequestVerificationToken\" type=\"hidden\" value=\"([^\"]+)\"")]
    private static partial Regex Token();
}
