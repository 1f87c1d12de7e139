namespace Wergamon.App.Intake;

/// <summary>Where the names of a disc came from.</summary>
public static class NamedBy
{
    public const string Catalogue = "catalogue";
    public const string DiscText = "disc text";
    public const string Typed = "typed";
    public const string None = "none";
}
