namespace Wergamon.Core.Audio;

/// <summary>How rounding to fewer bits is kept from distorting.</summary>
public enum Dither
{
    /// <summary>White triangular noise, two steps wide (TPDF).</summary>
    Triangular,

    /// <summary>The same noise moved to where hearing is dull, see <see cref="NoiseShaping"/>.</summary>
    Shaped,

    /// <summary>Rounded to nearest.</summary>
    None,
}
