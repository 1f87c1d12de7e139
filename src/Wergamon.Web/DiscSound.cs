using Wergamon.App.Intake;
using Wergamon.Core.Audio;
using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Reading;

namespace Wergamon.Web;

/// <summary>The first seconds of a track straight from the disc, to know whether it is the right one.</summary>
internal static class DiscSound
{
    private const int Sectors = 12 * AudioDisc.SectorsPerSecond;

    public static void MapDiscSound(this WebApplication app) => app.MapGet("/discs/{letter}/{number:int}/start", (string letter, int number, DriveBay bay) =>
    {
        if (bay.Tray(letter) is not { Disc: { } disc } tray
            || TrackSpan.Of(disc.Image.Contents, Pauses.WithTrackBefore).FirstOrDefault(span => span.Number == number && span.Sectors > 0) is not { Sectors: > 0 } span)
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
    });
}
