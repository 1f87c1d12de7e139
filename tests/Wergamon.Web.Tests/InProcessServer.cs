using System.Text.RegularExpressions;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.TestHost;
using Microsoft.Extensions.DependencyInjection;
using Wergamon.App.Convert;
using Wergamon.App.Library.Scan;
using Wergamon.App.Runs;
using Wergamon.App.Tracks;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Wav;
using Wergamon.Testing;

namespace Wergamon.Web.Tests;

/// <summary>The whole server in this process, without a network.</summary>
public sealed partial class InProcessServer : IAsyncDisposable
{
    private static readonly TimeSpan LongestWait = TimeSpan.FromMinutes(4);

    private readonly WebApplication _app;

    private InProcessServer(TemporaryFolder folder, params string[] arguments)
    {
        Folder = folder;
        Directory.CreateDirectory(Music);
        _app = Server.Build(
            CommandLine.From(ServerArguments.Parse(
                ["--data", folder["data"], "--allow", folder.Path, "--music", Music, .. arguments])),
            host => host.UseTestServer());
        Client = null!;
    }

    public TemporaryFolder Folder { get; }

    public string Music => Folder["music"];

    /// <summary>Sends requests as a browser on this machine does.</summary>
    public HttpClient Client { get; private set; }

    public static async Task<InProcessServer> StartAsync(params string[] arguments)
    {
        var server = new InProcessServer(new TemporaryFolder(), arguments);
        await server._app.StartAsync();
        server.Client = server.NewClient();
        return server;
    }

    public HttpClient NewClient()
    {
        var client = _app.GetTestClient();
        client.BaseAddress = new Uri("http://127.0.0.1:5080/");
        return client;
    }

    public T Get<T>() where T : notnull => _app.Services.GetRequiredService<T>();

    /// <summary>Submits a form of a page, with the page's antiforgery token; redirects are not followed.</summary>
    public async Task<HttpResponseMessage> PostAsync(string page, string action, params (string Name, string Value)[] fields)
    {
        using var content = new FormUrlEncodedContent(fields.Select(field => KeyValuePair.Create(field.Name, field.Value)));
        return await PostBodyAsync(page, action, await content.ReadAsByteArrayAsync(), content.Headers.ContentType!.MediaType!);
    }

    /// <summary>Sends a body of any kind as a page would, with the page's antiforgery token in a header.</summary>
    /// <param name="type">Content type, with its parameters.</param>
    public async Task<HttpResponseMessage> PostBodyAsync(string page, string action, byte[] body, string type)
    {
        using var reply = await Client.GetAsync(page);
        var token = Token().Match(await reply.Content.ReadAsStringAsync()).Groups[1].Value;
        using var request = new HttpRequestMessage(HttpMethod.Post, action) { Content = new ByteArrayContent(body) };
        request.Content.Headers.TryAddWithoutValidation("Content-Type", type);
        request.Headers.Add("RequestVerificationToken", token);
        if (reply.Headers.TryGetValues("Set-Cookie", out var cookies))
            request.Headers.Add("Cookie", string.Join("; ", cookies.Select(cookie => cookie.Split(';')[0])));
        return await Client.SendAsync(request);
    }

    [GeneratedRegex("name=\"__RequestVerificationToken\" type=\"hidden\" value=\"([^\"]+)\"")]
    private static partial Regex Token();

    /// <summary>Writes a file of noise to the music folder.</summary>
    public string AddFile(string name, int frames)
    {
        var path = Path.Combine(Music, name);
        Directory.CreateDirectory(Path.GetDirectoryName(path)!);
        var format = new PcmFormat(SampleRate.AudioDisc, 2, 16);
        using var writer = new WavWriter(File.Create(path), format);
        TestSound.Noise(format, frames).CopyTo(writer);
        return path;
    }

    public async Task ScanAsync()
    {
        var folders = Get<MusicFolders>();
        folders.Rescan(folders.List()[0].Id);
        await UntilAsync(() => folders.List().All(folder => folder is { IsScanning: false, ScannedAt: not null }));
    }

    /// <summary>Converts all albums' tracks for a target and waits for it.</summary>
    public async Task<long> ConvertAsync(string target)
    {
        var library = Get<LibraryQueries>();
        long plan = Get<Plans>()
            .Create("Carts", target, [.. library.Albums().SelectMany(album => library.TracksOfAlbum(album.Id)).Select(track => track.Id)]);
        long run = Get<Plans>().Start(plan)!.Value;
        await UntilAsync(() => Get<RunStore>().Get(run)!.State == RunState.Done);
        return run;
    }

    public static async Task UntilAsync(Func<bool> condition)
    {
        using var limit = new CancellationTokenSource(LongestWait);
        while (!condition())
            await Task.Delay(20, limit.Token);
    }

    public async ValueTask DisposeAsync()
    {
        await _app.StopAsync();
        await _app.DisposeAsync();
        Folder.Dispose();
    }
}
