using SkiaSharp;
using Wergamon.Core.Jobs;

namespace Wergamon.Worker;

/// <summary>Cuts a picture to a square, makes it smaller, and encodes it anew.</summary>
internal static class ShapedPicture
{
    private const int JpegQuality = 92;

    public static WorkerReply Run(PictureJob job)
    {
        using var codec = SKCodec.Create(job.SourcePath);
        if (codec is null || (long)codec.Info.Width * codec.Info.Height is 0 or > Thumbnail.MaxPixels)
            return new FailureReply("This is no picture that can be changed.");
        using var decoded = SKBitmap.Decode(codec);
        if (decoded is null)
            return new FailureReply("The picture is damaged.");
        int side = Math.Min(decoded.Width, decoded.Height);
        var cut = job.IsSquare ? SKRectI.Create((decoded.Width - side) / 2, (decoded.Height - side) / 2, side, side) : SKRectI.Create(decoded.Width, decoded.Height);
        double scale = Math.Min(1, (job.MaxSize ?? int.MaxValue) / (double)Math.Max(cut.Width, cut.Height));
        var info = new SKImageInfo(Math.Max(1, (int)Math.Round(cut.Width * scale)), Math.Max(1, (int)Math.Round(cut.Height * scale)), SKColorType.Rgba8888, job.AsPng ? SKAlphaType.Premul : SKAlphaType.Opaque);
        using var surface = SKSurface.Create(info);
        // JPEG knows no transparency: white shows through.
        surface.Canvas.Clear(job.AsPng ? SKColors.Transparent : SKColors.White);
        using var image = SKImage.FromBitmap(decoded);
        surface.Canvas.DrawImage(image, SKRect.Create(cut.Left, cut.Top, cut.Width, cut.Height), SKRect.Create(info.Width, info.Height), new SKSamplingOptions(SKFilterMode.Linear, SKMipmapMode.Linear));
        using var shaped = surface.Snapshot();
        using var data = shaped.Encode(job.AsPng ? SKEncodedImageFormat.Png : SKEncodedImageFormat.Jpeg, JpegQuality);
        return data is null ? new FailureReply("The picture could not be encoded.") : new ThumbnailReply(data.ToArray(), job.AsPng ? "image/png" : "image/jpeg");
    }
}
