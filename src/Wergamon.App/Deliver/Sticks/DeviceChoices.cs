using Wergamon.App.Storage;
using Wergamon.Core.Sticks;

namespace Wergamon.App.Deliver.Sticks;

/// <summary>The devices that sticks are made for: built-in ones, with the person's changes, and custom ones.</summary>
public sealed class DeviceChoices(Database database)
    : NamedChoices<DeviceDescription>(database, new ChoiceTable("device", "description"), DeviceDescription.BuiltIn)
{
    protected override string KeyOf(DeviceDescription choice) => choice.Key;

    protected override string NameOf(DeviceDescription choice) => choice.Name;

    protected override DeviceDescription WithKey(DeviceDescription choice, string key) => choice with { Key = key };

    protected override string Write(DeviceDescription choice) => DeviceFile.Write(choice);

    protected override DeviceDescription? Read(string document) => DeviceFile.Read(document).Device;
}
