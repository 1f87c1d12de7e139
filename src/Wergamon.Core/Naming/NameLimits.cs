namespace Wergamon.Core.Naming;

/// <summary>How long names may be beyond what every file system takes.</summary>
/// <param name="MaxCharacters">UTF-16 units of one name, extension included.</param>
/// <param name="Refused">Characters that are refused besides those that no name has.</param>
public sealed record NameLimits(int MaxCharacters, string Refused = "")
{
    /// <summary>FAT32, exFAT, NTFS and ext4 at once: 255 units, and 255 bytes of UTF-8.</summary>
    public static NameLimits Common { get; } = new(255);

    /// <summary>Data discs: 64 units (Joliet Specification, 1995, from memory), no semicolon.</summary>
    public static NameLimits Joliet { get; } = new(64, ";");
}
