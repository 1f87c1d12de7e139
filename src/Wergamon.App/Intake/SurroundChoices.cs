using System.Globalization;
using Wergamon.App.Storage;

namespace Wergamon.App.Intake;

/// <summary>Keeps the choices for each surround disc.</summary>
public sealed class SurroundChoices(Settings settings)
{
    public SurroundChoice Of(long discId) => settings.Read(Key(discId), IntakeJson.Default.SurroundChoice) ?? new SurroundChoice();

    public void Save(long discId, SurroundChoice choice) => settings.Write(Key(discId), choice, IntakeJson.Default.SurroundChoice);

    private static string Key(long discId) => string.Create(CultureInfo.InvariantCulture, $"surround {discId}");
}
