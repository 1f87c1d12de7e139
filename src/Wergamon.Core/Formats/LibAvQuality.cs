using System.Globalization;

namespace Wergamon.Core.Formats;

/// <summary>The unit in which encoders of libav take a constant quality (FF_QP2LAMBDA).</summary>
internal static class LibAvQuality
{
    private const int Unit = 118;

    public static string Of(int quality) => (quality * Unit).ToString(CultureInfo.InvariantCulture);
}
