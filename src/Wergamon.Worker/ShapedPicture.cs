using SkiaSharp;
using Wergamon.Core.Jobs;

namespace Wergamon.Worker;

/// <summary>Cuts a picture to a square, makes it smaller, and re-encodes it.</summary>
internal static class ShapedPicture
{
    private const int JpegQuality = 92;

    public static WorkerReply Run(PictureJob job)
    {
        using var file = SKData.Create(job.SourcePath);
        return file is not null && Make(file, job.MaxSize, job.IsSquare, job.AsPng) is { } shaped
            ? new ThumbnailReply(shaped, job.AsPng ? "image/png" : "image/jpeg")
            : new FailureReply("This picture cannot be changed, or is damaged.");
    }

    /// <summary>The picture in another shape; null where it cannot be decoded.</summary>
    public static byte[]? Make(ReadOnlyMemory<byte> picture, int? maxSize, bool isSquare, bool asPng)
    {
        using var data = SKData.CreateCopy(picture.Span);
        return Make(data, maxSize, isSquare, asPng);
    }

    private static byte[]? Make(SKData picture, int? maxSize, bool isSquare, bool asPng)
    {
        using var codec = SKCodec.Create(picture);
        if (codec is null || (long)codec.Info.Width * codec.Info.Height is 0 or > Thumbnail.MaxPixels)
            return null;
        using var decoded = SKBitmap.Decode(codec);
        if (decoded is null)
            return null;
        int side = Math.Min(decoded.Width, decoded.Height);
        var cut = isSquare
            ? SKRectI.Create((decoded.Width - side) / 2, (decoded.Height - side) / 2, side, side)
            : SKRectI.Create(decoded.Width, decoded.Height);
        double scale = Math.Min(1, (maxSize ?? int.MaxValue) / (double)Math.Max(cut.Width, cut.Height));
        var info = new SKImageInfo(
            Math.Max(1, (int)Math.Round(cut.Width * scale)), Math.Max(1, (int)Math.Round(cut.Height * scale)), SKColorType.Rgba8888,
            asPng ? SKAlphaType.Premul : SKAlphaType.Opaque);
        using var surface = SKSurface.Create(info);
        // JPEG knows no transparency: white shows through.
        surface.Canvas.Clear(asPng ? SKColors.Transparent : SKColors.White);
        using var image = SKImage.FromBitmap(decoded);
        surface.Canvas.DrawImage(
            image, SKRect.Create(cut.Left, cut.Top, cut.Width, cut.Height), SKRect.Create(info.Width, info.Height),
            new SKSamplingOptions(SKFilterMode.Linear, SKMipmapMode.Linear));
        using var shaped = surface.Snapshot();
        using var encoded = shaped.Encode(asPng ? SKEncodedImageFormat.Png : SKEncodedImageFormat.Jpeg, JpegQuality);
        return encoded?.ToArray();
    }
}
