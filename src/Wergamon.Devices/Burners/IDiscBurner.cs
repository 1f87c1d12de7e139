using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Reading;

namespace Wergamon.Devices.Burners;

/// <summary>What is known of a burner.</summary>
/// <param name="Name">As people tell burners apart.</param>
/// <param name="Speeds">Speeds of writing as multiples of playing time, rising.</param>
/// <param name="BufferSectors">What it holds in its memory, to bridge a slow source.</param>
/// <param name="CanWait">True if it stops and goes on exactly there when its buffer runs empty; otherwise the disc is spoiled.</param>
public sealed record BurnerTraits(string Name, IReadOnlyList<int> Speeds, int BufferSectors, bool CanWait);

/// <summary>What is to be written to a disc in one go.</summary>
/// <param name="Label">What will be written on the disc.</param>
/// <param name="Contents">The table of contents, with codes and indexes.</param>
/// <param name="Text">Disc text for the lead-in; empty for none.</param>
/// <param name="Speed">One of the burner's, or 0 for its highest.</param>
public sealed record BurnOrder(string Label, TableOfContents Contents, DiscText Text, int Speed)
{
    /// <summary>True to go through everything with the laser at reading power: the disc stays blank.</summary>
    public bool IsTrial { get; init; }

    /// <summary>False to leave the disc open.</summary>
    public bool ClosesDisc { get; init; } = true;

    /// <summary>The bytes of a sector: 2,352 of sound, or 2,048 of data.</summary>
    public int BytesPerSector { get; init; } = AudioDisc.BytesPerSector;
}

/// <summary>A burner as a person uses it.</summary>
public interface IDiscBurner
{
    /// <summary>"C", "D".</summary>
    string Letter { get; }

    BurnerTraits Traits { get; }

    /// <summary>Null for an empty tray.</summary>
    BurnerDisc? Disc { get; }

    /// <summary>Begins to write; a rewritable disc is erased first.</summary>
    /// <exception cref="BurnFailedException">There is no disc that takes it.</exception>
    IBurnSession Begin(BurnOrder order);

    /// <summary>Closes a disc that was left open.</summary>
    void Close();

    /// <summary>What was written, as readable audio.</summary>
    /// <exception cref="UnreadableDiscException">There is nothing to read in the tray.</exception>
    IAudioDrive Open();

    /// <summary>What was written to a data disc, from its first sector on.</summary>
    /// <exception cref="UnreadableDiscException">There is no data disc in the tray.</exception>
    Stream OpenData();

    void Eject();
}
