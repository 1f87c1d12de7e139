namespace Wergamon.Devices.Catalogue;

/// <summary>How the simulated catalogue answers, to try out failures.</summary>
public enum CatalogueMood
{
    Quick,
    Slow,
    Down,
    Wrong,
}
