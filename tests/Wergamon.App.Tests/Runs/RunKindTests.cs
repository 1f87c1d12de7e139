using System.Reflection;
using Wergamon.App.Runs;

namespace Wergamon.App.Tests.Runs;

/// <summary>Kinds of work are data: what a station declares is registered, and once.</summary>
public class RunKindTests
{
    private static readonly BindingFlags AllStatic = BindingFlags.Static | BindingFlags.Public | BindingFlags.NonPublic;

    [Fact]
    public async Task All_kinds_of_run_are_registered()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        var declared = Declared()
            .Where(field => field.FieldType == typeof(RunKind))
            .Select(field => ((RunKind)field.GetValue(null)!).Key)
            .Order()
            .ToList();
        Assert.NotEmpty(declared);
        Assert.Equal(declared, app.Get<IEnumerable<RunKind>>().Select(kind => kind.Key).Order());
    }

    [Fact]
    public async Task All_kinds_of_item_have_a_handler()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        var declared = Declared()
            .Where(field => field.FieldType is { IsGenericType: true } type && type.Name.StartsWith("ItemKind", StringComparison.Ordinal))
            .Select(field => (string)field.FieldType.GetProperty("Name")!.GetValue(field.GetValue(null))!).Order().ToList();
        Assert.NotEmpty(declared);
        Assert.Equal(declared, app.Get<IEnumerable<IItemHandler>>().Select(handler => handler.Kind).Order());
    }

    private static IEnumerable<FieldInfo> Declared() =>
        typeof(RunKind).Assembly.GetTypes().Where(type => !type.ContainsGenericParameters).SelectMany(type => type.GetFields(AllStatic));
}
