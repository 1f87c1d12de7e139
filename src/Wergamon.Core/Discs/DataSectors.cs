namespace Wergamon.Core.Discs;

/// <summary>The sectors of a data track, mode 1 (ECMA-130): sync, address and mode, 2,048 bytes of data, checks.</summary>
public static class DataSectors
{
    public const int HeaderLength = 16;
    public const int DataLength = 2048;

    private static ReadOnlySpan<byte> Sync => [0, 0xFF, 0xFF, 0xFF, 0xFF, 0xFF, 0xFF, 0xFF, 0xFF, 0xFF, 0xFF, 0];

    /// <summary>The data of a raw sector.</summary>
    public static Span<byte> DataOf(Span<byte> rawSector) => rawSector.Slice(HeaderLength, DataLength);

    /// <summary>Writes sync, address and mode before the data of a raw sector. The checks after the data are left as they are.</summary>
    public static void WriteHeader(Span<byte> rawSector, int sector)
    {
        Sync.CopyTo(rawSector);
        var place = new Msf(sector + AudioDisc.LeadInPauseSectors);
        (rawSector[12], rawSector[13], rawSector[14], rawSector[15]) = (
            Bcd(place.Minutes), Bcd(place.Seconds), Bcd(place.SectorOfSecond), 1);
    }

    private static byte Bcd(int number) => (byte)(number / 10 << 4 | number % 10);
}
