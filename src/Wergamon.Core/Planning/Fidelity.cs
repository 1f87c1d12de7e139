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

public static class FidelityWords
{
    public static string InWords(this Fidelity fidelity) => fidelity switch
    {
        Fidelity.Exact => "bit for bit",
        Fidelity.Recalculated => "recalculated",
        _ => "detail thrown away",
    };

    public static Fidelity Worse(Fidelity one, Fidelity other) => (Fidelity)Math.Max((int)one, (int)other);
}
