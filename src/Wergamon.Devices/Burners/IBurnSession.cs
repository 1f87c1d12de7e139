namespace Wergamon.Devices.Burners;

/// <summary>A disc being written. Disposed before <see cref="Finish"/>, the disc is spoiled.</summary>
public interface IBurnSession : IDisposable
{
    /// <summary>The key that the disc has once it is finished; null for a trial.</summary>
    string? Key { get; }

    /// <summary>Writes what follows.</summary>
    /// <exception cref="BurnFailedException">The disc could not be written on.</exception>
    void Write(ReadOnlySpan<byte> bytes);

    /// <summary>Writes lead-in and lead-out.</summary>
    /// <returns>How often the burner had to wait for the source.</returns>
    /// <exception cref="BurnFailedException">Not everything was written that the table of contents says.</exception>
    int Finish();
}
