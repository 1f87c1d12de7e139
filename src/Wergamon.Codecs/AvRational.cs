using System.Runtime.InteropServices;
using Wergamon.Core.Audio;

namespace Wergamon.Codecs;

[StructLayout(LayoutKind.Sequential)]
internal struct AvRational
{
    public int Numerator;
    public int Denominator;
}
