using System.Runtime.InteropServices;
using SkiaSharp;

namespace Wergamon.Demo;

internal enum CoverPattern
{
    Diagonal,
    Horizon,
    Rays,
    Lamp,
    Steps,
}

/// <summary>Draws covers of plain shapes pixel by pixel, with 4 x 4 supersampling.</summary>
internal static class CoverArt
{
    public const int Size = 1000;

    private const int SamplesEachWay = 3;
    private const int JpegQuality = 88;

    private static readonly (byte R, byte G, byte B) Slate = (0x26, 0x30, 0x3B);
    private static readonly (byte R, byte G, byte B) PaleSlate = (0x4B, 0x5A, 0x68);
    private static readonly (byte R, byte G, byte B) Lamp = (0xE8, 0xA3, 0x17);
    private static readonly (byte R, byte G, byte B) Verdigris = (0x0D, 0x6E, 0x6E);
    private static readonly (byte R, byte G, byte B) Plum = (0x8B, 0x2F, 0x73);
    private static readonly (byte R, byte G, byte B) Paper = (0xF3, 0xF4, 0xF0);
    private static readonly (byte R, byte G, byte B) Rust = (0xA8, 0x6A, 0x00);

    public static byte[] Jpeg(CoverPattern pattern)
    {
        using var bitmap = new SKBitmap(new SKImageInfo(Size, Size, SKColorType.Rgba8888, SKAlphaType.Opaque));
        Marshal.Copy(Pixels(pattern), 0, bitmap.GetPixels(), Size * Size * 4);
        using var image = SKImage.FromBitmap(bitmap);
        using var data = image.Encode(SKEncodedImageFormat.Jpeg, JpegQuality);
        return data.ToArray();
    }

    /// <summary>RGBA, opaque.</summary>
    public static byte[] Pixels(CoverPattern pattern)
    {
        var pixels = new byte[Size * Size * 4];
        for (int y = 0; y < Size; y++)
        {
            for (int x = 0; x < Size; x++)
            {
                int r = 0, g = 0, b = 0;
                for (int s = 0; s < SamplesEachWay * SamplesEachWay; s++)
                {
                    var colour = At(
                        pattern,
                        (x + (s % SamplesEachWay + 0.5) / SamplesEachWay) / Size,
                        (y + (s / SamplesEachWay + 0.5) / SamplesEachWay) / Size);
                    r += colour.R;
                    g += colour.G;
                    b += colour.B;
                }

                const int Samples = SamplesEachWay * SamplesEachWay;
                int at = 4 * (y * Size + x);
                (pixels[at], pixels[at + 1], pixels[at + 2], pixels[at + 3]) = (
                    (byte)(r / Samples), (byte)(g / Samples), (byte)(b / Samples), 255);
            }
        }

        return pixels;
    }

    /// <summary>The colour at a point; both coordinates run from 0 to 1.</summary>
    private static (byte R, byte G, byte B) At(CoverPattern pattern, double x, double y) => pattern switch
    {
        CoverPattern.Diagonal => x + y < 0.92 ? Slate : x + y < 1.08 ? Lamp : Verdigris,
        CoverPattern.Horizon => y < 0.62 - 0.25 * x ? Verdigris : y < 0.72 - 0.25 * x ? Paper : Slate,
        CoverPattern.Rays => Ray(x, y),
        CoverPattern.Lamp => Square(x - 0.36, y - 0.62) < 0.0144 ? Lamp : Square(x - 0.36, y - 0.62) < 0.3 ? Slate : PaleSlate,
        _ => (int)(x * 6) + (int)(y * 6) is var step && step % 5 == 4 ? Slate : step > 5 ? Lamp : Rust,
    };

    private static (byte R, byte G, byte B) Ray(double x, double y)
    {
        double dx = x - 0.15, dy = 1.05 - y;
        double slope = dy / Math.Max(0.001, dx + 0.4);
        return slope is > 0.5 and < 0.62 or > 0.95 and < 1.1 ? Paper : slope < 0.8 ? Slate : Plum;
    }

    private static double Square(double x, double y) => x * x + y * y;
}
