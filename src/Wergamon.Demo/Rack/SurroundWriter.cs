using System.Globalization;
using Wergamon.Core.Audio;
using Wergamon.Core.Discs.Iso9660;
using Wergamon.Core.Formats.Wav;
using Wergamon.Demo.Music;

namespace Wergamon.Demo.Rack;

/// <summary>Makes a surround disc: an ISO 9660 image with multichannel WAV files, some of them in two parts.</summary>
internal sealed class SurroundWriter(string folder)
{
    private const int Bits = 24;
    private const int FrontChannels = 2;

    private static readonly DateTimeOffset Pressed = new(2023, 6, 24, 12, 0, 0, TimeSpan.Zero);

    public void Write(RackAlbum album)
    {
        var files = new List<IsoSource>();
        for (int i = 0; i < album.Tracks.Count; i++)
        {
            var (rate, isSplit) = album.Surround[i];
            var lines = Performance.Of(album.Tracks[i].Piece, rate, 6);
            var name = string.Create(CultureInfo.InvariantCulture, $"Titles/T{i + 1:00}D1-");
            if (isSplit)
            {
                files.Add(Source(name + "FRONT.WAV", rate, lines[..FrontChannels], ChannelRoles.Stereo));
                // The rest does not state its speakers.
                files.Add(Source(name + "REST.WAV", rate, lines[FrontChannels..], ChannelRoles.None));
            }
            else
            {
                files.Add(Source(name + "ALL.WAV", rate, lines, ChannelRoles.Surround51));
            }
        }

        files.Add(
            new IsoSource("Read me.txt", 51, () => new MemoryStream("Recorded in the slate cavern at Lantern Quarry.\r\n  "u8.ToArray())));
        using var image = File.Create(Path.Combine(folder, album.Key + ".iso"));
        IsoWriter.Write(image, album.Title, files, Pressed);
    }

    private static IsoSource Source(string path, int rate, double[][] lines, ChannelRoles roles)
    {
        var format = new PcmFormat(new SampleRate(rate), lines.Length, Bits) { Roles = roles };
        var bytes = new MemoryStream();
        var writer = new WavWriter(bytes, format, lines[0].Length);
        DemoWriter.WriteSound(writer, lines);
        writer.Complete();
        bytes.Position = 0;
        return new IsoSource(path, bytes.Length, () => bytes);
    }
}
