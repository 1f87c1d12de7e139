using System.Runtime.InteropServices;

namespace Wergamon.Codecs;

[StructLayout(LayoutKind.Sequential)]
internal struct AvRational
{
    public int Numerator;
    public int Denominator;
}
