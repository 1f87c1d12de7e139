using System.Globalization;
using System.Text;
using Wergamon.App.Deliver;
using Wergamon.App.Deliver.Discs;
using Wergamon.Core.Discs;
using Wergamon.Devices.Burners;
using Wergamon.Web.Display;

namespace Wergamon.Web.Pages.Deliver;

/// <summary>A planned audio disc against its blank, in small: its tracks to scale, and what room is left.</summary>
/// <param name="Tracks">The tracks as one path.</param>
/// <param name="Room">Where the blank ends on the drawing.</param>
/// <param name="InWords">"1:16:49 free", "2:13 too long".</param>
internal sealed record DiscFit(string Tracks, double Room, string InWords)
{
    public const int Width = 190, Height = 14;

    private const double Gap = 1;

    public static DiscFit Of(DeliveryOverview disc)
    {
        var settings = AudioDiscSettings.Of(disc.Row);
        var blank = BlankDisc.Shelf.FirstOrDefault(each => each.Key == settings.BlankKey) ?? BlankDisc.Shelf[0];
        double room = (double)blank.Blank.Sectors / AudioDisc.SectorsPerSecond;
        double length = disc.Length.TotalSeconds + settings.PauseSeconds * Math.Max(0, disc.Lengths.Count - 1);
        double scale = Width / Math.Max(room, length), at = 0;
        var tracks = new StringBuilder();
        foreach (var track in disc.Lengths)
        {
            double width = Math.Max(0.5, track.TotalSeconds * scale - Gap);
            tracks.Append(CultureInfo.InvariantCulture, $"M{at:0.##} 0h{width:0.##}v{Height}H{at:0.##}z");
            at += (track.TotalSeconds + settings.PauseSeconds) * scale;
        }

        var left = TimeSpan.FromSeconds(Math.Abs(room - length));
        return new DiscFit(tracks.ToString(), room * scale, length <= room ? $"{Labels.Time(left)} free" : $"{Labels.Time(left)} too long");
    }
}
