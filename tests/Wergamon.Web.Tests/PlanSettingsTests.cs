using System.Net;
using Wergamon.App.Convert;
using Wergamon.App.Copies;
using Wergamon.App.Tracks;
using Wergamon.Core.Audio;
using Wergamon.Core.Audio.Steps;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Alac;
using Wergamon.Core.Formats.Flac;
using Wergamon.Core.Formats.Mp3;
using Wergamon.Core.Formats.Vorbis;
using Wergamon.Core.Formats.Wav;
using Wergamon.Core.Planning;

namespace Wergamon.Web.Tests;

/// <summary>The settings of a plan's target, as sent by a browser and as sent by a script.</summary>
public sealed class PlanSettingsTests
{
    [Fact]
    public async Task A_step_on_a_scale_is_taken_and_another_scale_starts_with_its_usual_step()
    {
        await using var server = await InProcessServer.StartAsync();
        var plan = await PlanAsync(server, "pocket-player");
        Assert.Equal(Mp3Settings.Constant(128), await SendAsync(server, plan, ("scale", "0"), ("shown", "0"), ("step", "2")));
        // The step still belongs to the scale that was shown.
        Assert.Equal(Mp3Settings.Variable(2), await SendAsync(server, plan, ("scale", "2"), ("shown", "0"), ("step", "2")));
        Assert.Equal(Mp3Settings.Variable(9), await SendAsync(server, plan, ("scale", "2"), ("shown", "2"), ("step", "0")));
        Assert.Equal(Mp3Settings.Average(192), await SendAsync(server, plan, ("scale", "1"), ("shown", "2"), ("step", "0")));
        Assert.Equal(Mp3Settings.Constant(256), await SendAsync(server, plan, ("scale", "0"), ("shown", "1"), ("step", "0")));
        // Another format starts with its usual settings, whatever belongs to the one that was shown.
        Assert.Equal(new VorbisSettings(6), await SendAsync(server, plan, ("format", "vorbis"), ("shown", "0"), ("step", "7")));
        Assert.Equal(new VorbisSettings(10), await SendAsync(server, plan, ("format", "vorbis"), ("shown", "0"), ("step", "11")));
        Assert.Equal(new AlacSettings(), await SendAsync(server, plan, ("format", "alac"), ("shown", "0"), ("step", "3")));
    }

    [Fact]
    public async Task Invalid_settings_leave_the_quality_unchanged()
    {
        await using var server = await InProcessServer.StartAsync();
        var plan = await PlanAsync(server, "archive");
        Assert.Equal(new FlacSettings { Level = 8 }, await SendAsync(server, plan, ("shown", "0"), ("step", "8")));
        foreach (var fields in new (string, string)[][]
        {
            [], [("shown", "0"), ("step", "9")], [("shown", "0"), ("step", "-1")], [("scale", "7"), ("step", "0")],
            [("shown", "0"), ("step", "loud")]
        })
            Assert.Equal(new FlacSettings { Level = 8 }, await SendAsync(server, plan, [.. fields, ("taken", "Skip")]));
        Assert.Equal(ConflictRule.Skip, server.Get<Plans>().View(plan)!.Target.OnConflict);

        var plain = await PlanAsync(server, "plain");
        Assert.Equal(
            new WavSettings(),
            await SendAsync(server, plain, ("shown", "0"), ("step", "3"), ("rate", "44101"), ("bits", "-17"), ("artwork", "99")));
        Assert.Equal(((SampleRate?)null, (int?)null, (ArtworkRule?)null), RulesOf(server, plain));
        Assert.Equal(HttpStatusCode.NotFound, (await server.PostAsync("convert", "convert/999?handler=Settings")).StatusCode);
    }

    [Fact]
    public async Task Rate_depth_and_artwork_are_as_the_source_at_most_or_exactly()
    {
        await using var server = await InProcessServer.StartAsync();
        var plan = await PlanAsync(server, "archive");
        await SendAsync(server, plan, ("rate", "44100"), ("bits", "16"), ("artwork", "5"));
        Assert.Equal(
            ((SampleRate?)SampleRate.AudioDisc, (int?)16, (ArtworkRule?)new ArtworkRule(ArtworkChoice.FrontOnly, 500)),
            RulesOf(server, plan));
        await SendAsync(server, plan, ("rate", "-96000"), ("bits", "-24"), ("artwork", "7"));
        var target = server.Get<Plans>().View(plan)!.Target;
        Assert.Equal(
            (null, 96_000, (int?)null, (int?)24, ArtworkChoice.None),
            (target.Rate, target.HighestRate!.Value.Hertz, target.Bits, target.MaxBits, target.Artwork!.Choice));
        await SendAsync(server, plan, ("rate", "0"), ("bits", "0"), ("artwork", "0"));
        target = server.Get<Plans>().View(plan)!.Target;
        Assert.Equal((null, null, null, null, null), (target.Rate, target.HighestRate, target.Bits, target.MaxBits, target.Artwork));
    }

    [Fact]
    public async Task Level_channels_and_place_can_be_chosen_and_unset()
    {
        await using var server = await InProcessServer.StartAsync();
        var plan = await PlanAsync(server, "archive");
        await SendAsync(
            server, plan, ("level", "Loudness"), ("loudness", "-18.5"), ("ceiling", "-2"), ("albumAsOne", "true"), ("channels", "Mono"),
            ("dither", "Shaped"), ("place", "SourceTree"), ("outside", "true"), ("tagVersion", "4"));
        var target = server.Get<Plans>().View(plan)!.Target;
        Assert.Equal(new LevelRule(LevelKind.Loudness) { Loudness = -18.5, Ceiling = -2, AlbumAsOne = true }, target.Level);
        Assert.Equal(
            (ChannelChoice.Mono, Dither.Shaped, OutputLocation.SourceTree, true, 4),
            (target.Channels, target.Dither, target.Place, target.ExcludedFromLibrary, target.Id3v2Version));
        // Numbers that make no sense change nothing, nor does a form without these fields.
        await SendAsync(server, plan, ("level", "Loudness"), ("loudness", "7"), ("channels", "Nine"), ("place", "99"));
        await SendAsync(server, plan, ("shown", "0"));
        Assert.Equal(target, server.Get<Plans>().View(plan)!.Target);
        // What lowers only what would clip keeps the other numbers.
        await SendAsync(server, plan, ("level", "AvoidClipping"));
        Assert.Equal(target.Level! with { Kind = LevelKind.AvoidClipping }, server.Get<Plans>().View(plan)!.Target.Level);
        // The page offers what takes all of it back.
        var html = await server.Client.GetStringAsync(new Uri($"convert/{plan}", UriKind.Relative));
        Assert.Contains("<option value=\"None\">as the source</option>", html, StringComparison.Ordinal);
        await SendAsync(
            server, plan, ("level", "None"), ("channels", "AsSource"), ("dither", "Triangular"), ("place", "Folder"), ("outside", "false"),
            ("tagVersion", "3"));
        Assert.Equal(StandardTargets.BuiltIn[0] with { OnConflict = target.OnConflict }, server.Get<Plans>().View(plan)!.Target);
    }

    /// <summary>Exceptions are made for many lines in one field, or for all that are shown; asking needs no line at all.</summary>
    [Fact]
    public async Task Exceptions_are_made_for_picked_lines()
    {
        await using var server = await InProcessServer.StartAsync();
        var plan = await PlanAsync(server, "archive");
        var address = $"convert/{plan}";
        Assert.Contains(
            "Pick tracks first", await TextAsync(await server.PostAsync(address, $"{address}/change?handler=Picked")),
            StringComparison.Ordinal);
        var dialog = await TextAsync(
            await server.PostAsync(address, $"{address}/change?handler=Save", ("numbers", "0,77,x"), ("format", "wav"), ("name", "Other")));
        // Labels lead to the fields of the dialog, not to those of the page.
        Assert.Contains("for=\"change-format\"", dialog, StringComparison.Ordinal);
        Assert.Contains("id=\"change-format\"", dialog, StringComparison.Ordinal);
        var line = server.Get<Plans>().View(plan)!.Lines[0];
        Assert.Equal(("wav", "Other.wav"), (line.Planned!.Target.Format.Key, Path.GetFileName(line.Planned.RelativePath)));
        await server.PostAsync(address, $"{address}?handler=LeaveOut", ("all", "true"), ("show", "Exceptions"), ("leaveOut", "true"));
        Assert.True(server.Get<Plans>().View(plan)!.Lines[0].IsLeftOut);
        await server.PostAsync(address, $"{address}/change?handler=AsPlanned", ("track", "0"));
        Assert.Null(server.Get<Plans>().View(plan)!.Lines[0].Exception);
    }

    [Fact]
    public async Task Ends_are_trimmed_and_faded_within_bounds()
    {
        await using var server = await InProcessServer.StartAsync();
        var plan = await PlanAsync(server, "archive");
        await SendAsync(server, plan, ("trim", "true"), ("fadeIn", "0.5"), ("fadeOut", "900"));
        var target = server.Get<Plans>().View(plan)!.Target;
        Assert.Equal((true, new FadeTimes(TimeSpan.FromSeconds(0.5), FadeTimes.Max)), (target.TrimsSilence, target.Fade));
        Assert.Null(target.Problem);
        // What is not sent, or is no number, stays.
        await SendAsync(server, plan, ("fadeIn", "soon"));
        Assert.Equal(target.Fade, server.Get<Plans>().View(plan)!.Target.Fade);
        await SendAsync(server, plan, ("trim", "false"), ("fadeIn", "0"), ("fadeOut", "-3"));
        target = server.Get<Plans>().View(plan)!.Target;
        Assert.Equal((false, null), (target.TrimsSilence, target.Fade));
    }

    private static async Task<string> TextAsync(HttpResponseMessage reply)
    {
        using (reply)
            return await reply.Content.ReadAsStringAsync();
    }

    /// <summary>A target from elsewhere may want what the lists do not offer; another choice leaves that alone.</summary>
    [Fact]
    public async Task Choices_that_are_not_offered_are_kept()
    {
        await using var server = await InProcessServer.StartAsync();
        var key = server.Get<TargetChoices>()
            .Add(
                new Target("x", "Old deck", new WavSettings())
                {
                    HighestRate = new SampleRate(32_000),
                    MaxBits = 20,
                    Artwork = new ArtworkRule(ArtworkChoice.FrontOnly, 240)
                });
        var html = await server.Client.GetStringAsync(new Uri($"convert/targets/{key}", UriKind.Relative));
        foreach (var shown in (string[])["32 kHz at most", "20 at most", "front, at most 240 px"])
            Assert.Contains($"<option value=\"\" selected>{shown}</option>", html, StringComparison.Ordinal);
        using var reply = await server.PostAsync(
            $"convert/targets/{key}", $"convert/targets/{key}?handler=Settings", ("rate", ""), ("bits", ""), ("artwork", ""),
            ("taken", "Skip"));
        var target = server.Get<TargetChoices>().Get(key);
        Assert.Equal(
            (32_000, 20, 240, ConflictRule.Skip),
            (target.HighestRate!.Value.Hertz, target.MaxBits, target.Artwork!.MaxSize, target.OnConflict));
    }

    private static (SampleRate? Rate, int? Bits, ArtworkRule? Artwork) RulesOf(InProcessServer server, long plan)
    {
        var target = server.Get<Plans>().View(plan)!.Target;
        return (target.Rate, target.Bits, target.Artwork);
    }

    private static async Task<long> PlanAsync(InProcessServer server, string target)
    {
        if (!server.Get<LibraryQueries>().Albums().Any())
        {
            server.AddFile("Tin Orchard - Carts (2020)/01 Cart.wav", 1000);
            await server.ScanAsync();
        }

        var library = server.Get<LibraryQueries>();
        return server.Get<Plans>().Create("Carts", target, [library.TracksOfAlbum(library.Albums()[0].Id)[0].Id]);
    }

    private static async Task<EncoderSettings> SendAsync(InProcessServer server, long plan, params (string, string)[] fields)
    {
        using var reply = await server.PostAsync($"convert/{plan}", $"convert/{plan}?handler=Settings", fields);
        Assert.Equal(HttpStatusCode.Redirect, reply.StatusCode);
        return server.Get<Plans>().View(plan)!.Target.Encoder;
    }
}
