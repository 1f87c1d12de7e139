using System.Globalization;

namespace Wergamon.Core.Discs;

/// <summary>A length or place on a disc, counted in sectors and written as minutes, seconds and sectors: MM:SS:FF (IEC 60908).</summary>
/// <param name="Sectors">75 to the second; not negative.</param>
public readonly record struct Msf(int Sectors) : IComparable<Msf>
{
    public Msf(int minutes, int seconds, int sectors) : this((minutes * 60 + seconds) * AudioDisc.SectorsPerSecond + sectors) { }

    public int Minutes => Sectors / (60 * AudioDisc.SectorsPerSecond);

    public int Seconds => Sectors / AudioDisc.SectorsPerSecond % 60;

    /// <summary>What the field FF holds: 0 to 74.</summary>
    public int SectorOfSecond => Sectors % AudioDisc.SectorsPerSecond;

    public TimeSpan Duration => TimeSpan.FromSeconds((double)Sectors / AudioDisc.SectorsPerSecond);

    public static Msf operator +(Msf one, Msf other) => new(one.Sectors + other.Sectors);

    public static Msf operator -(Msf one, Msf other) => new(one.Sectors - other.Sectors);

    public static bool operator <(Msf one, Msf other) => one.Sectors < other.Sectors;

    public static bool operator >(Msf one, Msf other) => one.Sectors > other.Sectors;

    public static bool operator <=(Msf one, Msf other) => one.Sectors <= other.Sectors;

    public static bool operator >=(Msf one, Msf other) => one.Sectors >= other.Sectors;

    /// <summary>Null unless MM:SS:FF with seconds below 60 and sectors below 75; minutes may exceed 99.</summary>
    public static Msf? TryParse(ReadOnlySpan<char> text)
    {
        int first = text.IndexOf(':');
        int last = text.LastIndexOf(':');
        if (first <= 0 || last == first
            || !TryNumber(text[..first], 9999, out int minutes) || !TryNumber(text[(first + 1)..last], 59, out int seconds)
                || !TryNumber(text[(last + 1)..], 74, out int sectors))
            return null;
        return new Msf(minutes, seconds, sectors);
    }

    public int CompareTo(Msf other) => Sectors.CompareTo(other.Sectors);

    public override string ToString() => string.Create(CultureInfo.InvariantCulture, $"{Minutes:00}:{Seconds:00}:{SectorOfSecond:00}");

    private static bool TryNumber(ReadOnlySpan<char> text, int most, out int number) =>
        int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out number) && number <= most;
}
