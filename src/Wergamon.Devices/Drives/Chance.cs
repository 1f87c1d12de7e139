namespace Wergamon.Devices.Drives;

/// <summary>Seeded random function, the same on every machine (SplitMix64): the same input gives the same result.</summary>
internal readonly struct Chance(ulong seed)
{
    public ulong Bits(ulong one, ulong two = 0, ulong three = 0)
    {
        ulong value = seed + one * 0x9E3779B97F4A7C15 + two * 0xC2B2AE3D27D4EB4F + three * 0x165667B19E3779F9;
        value = (value ^ value >> 30) * 0xBF58476D1CE4E5B9;
        value = (value ^ value >> 27) * 0x94D049BB133111EB;
        return value ^ value >> 31;
    }

    /// <summary>From 0 to below 1.</summary>
    public double Share(ulong one, ulong two = 0, ulong three = 0) => (Bits(one, two, three) >> 11) * (1.0 / (1UL << 53));
}
