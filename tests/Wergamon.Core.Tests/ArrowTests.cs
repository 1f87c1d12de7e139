using System.Xml.Linq;
using Wergamon.Testing;

namespace Wergamon.Core.Tests;

/// <summary>Which project may know which: Web to App to Devices and Core, Worker to Codecs to Core, Demo to Codecs and Devices. Core knows nobody.</summary>
public sealed class ArrowTests
{
    [Theory]
    [InlineData("Wergamon.Core", "")]
    [InlineData("Wergamon.Codecs", "Wergamon.Core")]
    [InlineData("Wergamon.Worker", "Wergamon.Codecs")]
    [InlineData("Wergamon.App", "Wergamon.Core,Wergamon.Devices")]
    [InlineData("Wergamon.Web", "Wergamon.App")]
    [InlineData("Wergamon.Devices", "Wergamon.Core")]
    [InlineData("Wergamon.Demo", "Wergamon.Codecs,Wergamon.Devices")]
    public void Projects_refer_only_in_one_direction(string project, string allowed)
    {
        var file = XDocument.Load(Path.Combine(Repository.Root, "src", project, project + ".csproj"));
        // A reference without the assembly only orders the build: the server starts the worker and calls nothing in it.
        var references = file.Descendants("ProjectReference")
            .Where(reference => reference.Attribute("ReferenceOutputAssembly")?.Value != "false")
            .Select(reference => Path.GetFileNameWithoutExtension(reference.Attribute("Include")!.Value));
        Assert.Equal(allowed.Split(',', StringSplitOptions.RemoveEmptyEntries), references);
    }

    [Fact]
    public void Core_has_no_package_but_for_sums_no_native_code_and_no_clock()
    {
        var folder = Path.Combine(Repository.Root, "src", "Wergamon.Core");
        Assert.Equal(["System.IO.Hashing"], XDocument.Load(Path.Combine(folder, "Wergamon.Core.csproj")).Descendants("PackageReference").Select(package => package.Attribute("Include")!.Value));
        foreach (var path in Directory.EnumerateFiles(folder, "*.cs", SearchOption.AllDirectories))
        {
            var code = File.ReadAllText(path);
            foreach (var word in new[] { "DllImport", "LibraryImport", "DateTime.", "DateTimeOffset.", "TimeProvider", "Process.", "Random.Shared", "new Random(" })
                Assert.False(code.Contains(word, StringComparison.Ordinal), $"{Path.GetFileName(path)} has {word}");
        }
    }
}
