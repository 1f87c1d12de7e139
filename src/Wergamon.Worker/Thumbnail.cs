using SkiaSharp;
using Wergamon.Core.Jobs;

namespace Wergamon.Worker;

/// <summary>Makes a picture small.</summary>
internal static class Thumbnail
{
    internal const long MaxPixels = 120_000_000;
    private const int JpegQuality = 85;

    public static WorkerReply Run(ThumbnailJob job)
    {
        using var codec = SKCodec.Create(job.SourcePath);
        if (codec is null || (long)codec.Info.Width * codec.Info.Height is 0 or > MaxPixels)
            return new FailureReply("This is not a picture that can be resized.");
        var near = SizeToDecode(codec, job.Size);
        var info = new SKImageInfo(near.Width, near.Height, SKColorType.Rgba8888, SKAlphaType.Premul);
        using var decoded = new SKBitmap(info);
        if (codec.GetPixels(info, decoded.GetPixels()) is not (SKCodecResult.Success or SKCodecResult.IncompleteInput))
            return new FailureReply("The picture is damaged.");
        double scale = Math.Min(1, (double)job.Size / Math.Max(near.Width, near.Height));
        var size = new SKSizeI(Math.Max(1, (int)Math.Round(near.Width * scale)), Math.Max(1, (int)Math.Round(near.Height * scale)));
        using var small = decoded.Resize(size, new SKSamplingOptions(SKFilterMode.Linear, SKMipmapMode.Linear));
        bool isOpaque = codec.Info.AlphaType == SKAlphaType.Opaque;
        using var data = small?.Encode(isOpaque ? SKEncodedImageFormat.Jpeg : SKEncodedImageFormat.Png, JpegQuality);
        return data is null
            ? new FailureReply("The picture could not be resized.")
            : new ThumbnailReply(data.ToArray(), isOpaque ? "image/jpeg" : "image/png");
    }

    /// <summary>JPEG can be decoded at eighths of its size; takes the smallest that is large enough.</summary>
    private static SKSizeI SizeToDecode(SKCodec codec, int size)
    {
        const int Eighths = 8;
        for (int part = 1; part < Eighths; part++)
        {
            if (codec.GetScaledDimensions((float)part / Eighths) is var scaled && Math.Max(scaled.Width, scaled.Height) >= size)
                return scaled;
        }

        return codec.Info.Size;
    }
}
