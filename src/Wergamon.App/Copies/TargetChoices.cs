using System.Text.Json;
using Wergamon.App.Storage;
using Wergamon.Core.Planning;

namespace Wergamon.App.Copies;

/// <summary>The targets with the person's own settings, which are kept from one plan to the next.</summary>
public sealed class TargetChoices(Database database)
    : NamedChoices<Target>(database, new ChoiceTable("target", "settings"), StandardTargets.BuiltIn)
{
    protected override string KeyOf(Target choice) => choice.Key;

    protected override string NameOf(Target choice) => choice.Name;

    protected override Target WithKey(Target choice, string key) => choice with { Key = key };

    protected override string Write(Target choice) => JsonSerializer.Serialize(choice, PlanningJson.Default.Target);

    protected override Target? Read(string document)
    {
        try
        {
            return JsonSerializer.Deserialize(document, PlanningJson.Default.Target) is { Problem: null } target ? target : null;
        }
        catch (JsonException)
        {
            return null;
        }
    }
}
