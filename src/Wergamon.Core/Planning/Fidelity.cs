namespace Wergamon.Core.Planning;

/// <summary>What a step does to the sound, from best to worst.</summary>
public enum Fidelity
{
    /// <summary>Every sample stays what it was: bit for bit.</summary>
    Exact,

    /// <summary>Recalculated: resampled, downmixed, requantised or changed in level.</summary>
    Recalculated,

    /// <summary>Detail is thrown away and does not come back.</summary>
    Lossy,
}
