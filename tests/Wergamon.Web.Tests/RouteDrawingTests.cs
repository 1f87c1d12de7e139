using Wergamon.Core.Audio;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Flac;
using Wergamon.Core.Planning;
using Wergamon.Web.Display;

namespace Wergamon.Web.Tests;

public sealed class RouteDrawingTests
{
    [Theory]
    [InlineData(44_100, 2, "FLAC 24-bit 44.1|MP3 256")]
    [InlineData(48_000, 2, "FLAC 24-bit 48|48 to 44.1 kHz|MP3 256")]
    [InlineData(96_000, 6, "FLAC 24-bit 96 5.1|downmix to stereo|96 to 44.1 kHz|MP3 256")]
    public void A_route_is_drawn_from_end_to_end_with_a_point_for_each_step(int rate, int channels, string labels)
    {
        var facts = new AudioFacts(
            FlacFormat.Instance, "FLAC", new PcmFormat(new SampleRate(rate), channels, 24), rate, IsLossless: true, 1000);
        var drawing = new RouteDrawing(RoutePlanner.Plan(facts, Fidelity.Exact, StandardTargets.BuiltIn[1]));
        Assert.Equal(labels, string.Join('|', drawing.Points.Select(point => point.Label)));
        Assert.Equal(("start", "end"), (drawing.Points[0].Anchor, drawing.Points[^1].Anchor));
        Assert.All(
            drawing.Points,
            point => Assert.InRange(point.X, RouteDrawing.PointSize / 2.0, RouteDrawing.Width - RouteDrawing.PointSize / 2.0));
        Assert.Equal(drawing.Points.Select(point => point.X).Order(), drawing.Points.Select(point => point.X));
        // Labels of 5.6 units a character, as the browser draws them, do not run into each other.
        var spans = drawing.Points.Select(point => (Width: point.Label.Length * 5.6, point)).Select(label => label.point.Anchor switch
        {
            "start" => (From: label.point.X, To: label.point.X + label.Width),
            "end" => (From: label.point.X - label.Width, To: label.point.X),
            _ => (From: label.point.X - label.Width / 2, To: label.point.X + label.Width / 2),
        }).ToList();
        Assert.All(spans.Zip(spans.Skip(1)), pair => Assert.True(pair.First.To < pair.Second.From));
        Assert.Equal((Fidelity.Exact, Fidelity.Lossy), (drawing.Points[0].Fidelity, drawing.Points[^1].Fidelity));
        Assert.EndsWith("MP3 256 detail thrown away", drawing.InWords, StringComparison.Ordinal);
    }

    /// <summary>More steps than the labels have room for: the points stay in order and inside.</summary>
    [Fact]
    public void A_long_route_keeps_its_points_in_order()
    {
        var facts = new AudioFacts(
            FlacFormat.Instance, "FLAC", new PcmFormat(new SampleRate(176_400), 8, 24), 1000, IsLossless: true, 1000);
        var target = new Target("own", "Own", new FlacSettings())
        {
            Channels = ChannelChoice.AtMostStereo,
            HighestRate = new SampleRate(44_100),
            MaxBits = 12
        };
        var points = new RouteDrawing(RoutePlanner.Plan(facts, Fidelity.Exact, target)).Points;
        Assert.Equal(
            ["downmix to stereo", "176.4 to 44.1 kHz", "to 12-bit", "16-bit", "FLAC 16-bit"], points.Skip(1).Select(point => point.Label));
        Assert.All(points.Zip(points.Skip(1)), pair => Assert.True(pair.First.X + RouteDrawing.PointSize < pair.Second.X));
        Assert.InRange(points[^1].X, 0, RouteDrawing.Width);
    }
}
