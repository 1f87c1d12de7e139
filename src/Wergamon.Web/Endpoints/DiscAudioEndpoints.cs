using Wergamon.App.Intake;
using Wergamon.Core.Audio;
using Wergamon.Core.Audio.Steps;
using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Reading;
using Wergamon.Core.Discs.Surround;
using Wergamon.Core.Formats.Wav;
using Wergamon.Devices.Drives;

namespace Wergamon.Web.Endpoints;

/// <summary>The first seconds of a track straight from the disc, to check that it is the right one.</summary>
internal static class DiscAudioEndpoints
{
    private const int Sectors = 12 * AudioDisc.SectorsPerSecond;

    private static readonly TimeSpan Heard = TimeSpan.FromSeconds(12);

    public static void MapDiscAudio(this WebApplication app)
    {
        app.MapGet("/discs/{letter}/{number:int}/start", Start);
        app.MapGet("/discs/{letter}/titles/{number:int}/channels/{channel:int}", (string letter, int number, int channel, DriveBay bay) =>
            TitleOf(bay, letter, number) is { } found && channel >= 0 && channel < found.Title.Channels
                ? Send(PickChannel(found.Disc, found.Title, channel))
                : Results.NotFound());
        app.MapGet(
            "/discs/{letter}/titles/{number:int}/downmix",
            (string letter, int number, DriveBay bay, InsertedDiscs desk, SurroundChoices choices) =>
        {
            if (TitleOf(bay, letter, number) is not { } found || desk.On(letter) is not { } onDesk)
                return Results.NotFound();
            var choice = choices.Of(onDesk.DiscId);
            if (!SurroundTitles.AreUsable(choice.RolesOf(found.Title)))
                return Results.NotFound();
            // At half level the preview cannot clip, whatever the gains; the copy itself is measured.
            var joined = new ChannelJoinReader(
                [.. found.Title.Parts.Select(part => new WavReader(found.Disc.OpenFile(part.File)))], choice.RolesOf(found.Title));
            return Send(new GainReader(new DownmixReader(joined, choice.Levels), 0.5));
        });
    }

    private static IResult Start(string letter, int number, DriveBay bay)
    {
        if (bay.Tray(letter) is not { Disc: { } disc } tray
            || TrackSpan.Of(disc.Image.Contents, Pauses.WithTrackBefore)
                .FirstOrDefault(span => span.Number == number && span.Sectors > 0) is not { Sectors: > 0 } span)
            return Results.NotFound();
        try
        {
            var start = span with { EndSector = Math.Min(span.EndSector, span.FirstSector + Sectors) };
            using var sound = new MemoryStream();
            WavWriter.WriteHead(sound, new PcmFormat(SampleRate.AudioDisc, 2, 16), start.Frames);
            new CarefulReader(tray.Open(), new ReadingSettings { IsCareful = false }).Read(start, sound);
            return Results.Bytes(sound.ToArray(), "audio/wav", enableRangeProcessing: true);
        }
        catch (UnreadableDiscException)
        {
            return Results.NotFound();
        }
    }

    private static (LoadedDisc Disc, SurroundTitle Title)? TitleOf(DriveBay bay, string letter, int number) =>
        bay.Tray(letter)?.Disc is { } disc && disc.Titles.FirstOrDefault(title => title.Number == number) is { } title
            ? (disc, title)
            : null;

    private static ChannelMapReader PickChannel(LoadedDisc disc, SurroundTitle title, int channel)
    {
        foreach (var part in title.Parts)
        {
            if (channel < part.Format.Channels)
                return new ChannelMapReader(new WavReader(disc.OpenFile(part.File)), [channel], ChannelRoles.Mono);
            channel -= part.Format.Channels;
        }

        throw new ArgumentOutOfRangeException(nameof(channel));
    }

    /// <summary>The first seconds of a source as a WAV file that every browser plays.</summary>
    private static IResult Send(IPcmReader source)
    {
        using var reader = new RequantisingReader(source, 16);
        using var sound = new MemoryStream();
        var writer = new WavWriter(sound, reader.Format);
        var block = new SampleBuffer(reader.Format);
        for (long frames = 0; frames < Heard.TotalSeconds * reader.Format.Rate.Hertz && reader.Read(block) is > 0 and var got;
        frames += got)
            writer.Write(block);
        writer.Complete();
        return Results.Bytes(sound.ToArray(), "audio/wav", enableRangeProcessing: true);
    }
}
