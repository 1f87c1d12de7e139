namespace Wergamon.Core.Planning;

public static class FidelityLabels
{
    public static string InWords(this Fidelity fidelity) => fidelity switch
    {
        Fidelity.Exact => "bit for bit",
        Fidelity.Recalculated => "recalculated",
        _ => "detail thrown away",
    };

    public static Fidelity Worse(Fidelity one, Fidelity other) => (Fidelity)Math.Max((int)one, (int)other);
}
