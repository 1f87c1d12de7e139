using System.Xml.Linq;
using Wergamon.Testing;

namespace Wergamon.Core.Tests;

/// <summary>
/// Which project may know which: Web to App to Devices and Core, Worker to Codecs to Core, Demo to Codecs and Devices; FileSystem lies
/// below all that open files. Core and FileSystem know nobody.
/// </summary>
public sealed class ArrowTests
{
    [Theory]
    [InlineData("Wergamon.Core", "")]
    [InlineData("Wergamon.FileSystem", "")]
    [InlineData("Wergamon.Codecs", "Wergamon.Core,Wergamon.FileSystem")]
    [InlineData("Wergamon.Worker", "Wergamon.Codecs")]
    [InlineData("Wergamon.App", "Wergamon.Core,Wergamon.Devices")]
    [InlineData("Wergamon.Web", "Wergamon.App")]
    [InlineData("Wergamon.Devices", "Wergamon.Core,Wergamon.FileSystem")]
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
    public void Core_has_one_package_no_native_code_and_no_clock()
    {
        var folder = Path.Combine(Repository.Root, "src", "Wergamon.Core");
        Assert.Equal(
            ["System.IO.Hashing"],
            XDocument.Load(Path.Combine(folder, "Wergamon.Core.csproj"))
                .Descendants("PackageReference")
                .Select(package => package.Attribute("Include")!.Value));
        foreach (var path in Directory.EnumerateFiles(folder, "*.cs", SearchOption.AllDirectories))
        {
            var code = File.ReadAllText(path);
            foreach (var word in new[]
            {
                "DllImport", "LibraryImport", "DateTime.", "DateTimeOffset.", "TimeProvider", "Process.", "Random.Shared", "new Random("
            })
                Assert.False(code.Contains(word, StringComparison.Ordinal), $"{Path.GetFileName(path)} has {word}");
        }
    }

    /// <summary>Which folder of the application may know which; stations know Library and no other station.</summary>
    [Fact]
    public void Folders_of_the_application_refer_only_downwards()
    {
        var allowed = new Dictionary<string, string[]>
        {
            ["Storage"] = [],
            ["Workers"] = ["Storage"],
            ["Files"] = ["Storage"],
            ["Runs"] = ["Storage", "Files", "Workers"],
            ["Library"] = ["Storage", "Files", "Workers", "Runs"],
            ["Convert"] = ["Storage", "Files", "Workers", "Runs", "Library"],
            ["Intake"] = ["Storage", "Files", "Workers", "Runs", "Library"],
            ["Tags"] = ["Storage", "Files", "Workers", "Runs", "Library"],
            ["Bench"] = ["Storage", "Files", "Workers", "Runs", "Library"],
            ["Sets"] = ["Storage", "Files", "Workers", "Runs", "Library"],
            ["Deliver"] = ["Storage", "Files", "Workers", "Runs", "Library"],
        };
        foreach (var (from, to) in References("Wergamon.App"))
            Assert.True(allowed[from].Contains(to), $"{from} refers to {to}");
    }

    [Fact]
    public void Folders_of_core_form_no_cycle()
    {
        var references = References("Wergamon.Core").ToLookup(pair => pair.From, pair => pair.To);
        var done = new HashSet<string>();
        void Visit(string folder, List<string> path)
        {
            Assert.False(path.Contains(folder), "A cycle: " + string.Join(" to ", path.Append(folder)));
            if (done.Contains(folder))
                return;
            foreach (var next in references[folder])
                Visit(next, [.. path, folder]);
            done.Add(folder);
        }

        foreach (var folder in references.Select(group => group.Key).ToList())
            Visit(folder, []);
    }

    /// <summary>Which first-level folder of a project names the namespace of which other.</summary>
    private static IEnumerable<(string From, string To)> References(string project)
    {
        var root = Path.Combine(Repository.Root, "src", project);
        return Directory.EnumerateFiles(root, "*.cs", SearchOption.AllDirectories)
            .Where(path => Path.GetDirectoryName(path) != root)
            .SelectMany(path => File.ReadLines(path), (path, line) => (From: Path.GetRelativePath(root, path).Split('/')[0], Line: line))
            .Where(pair => pair.Line.StartsWith($"using {project}.", StringComparison.Ordinal))
            .Select(pair => (pair.From, To: pair.Line[$"using {project}.".Length..].TrimEnd(';').Split('.')[0]))
            .Where(pair => pair.From != pair.To)
            .Distinct();
    }
}
