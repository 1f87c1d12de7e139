using System.Xml.Linq;
using ArchUnitNET.Domain;
using ArchUnitNET.Domain.Dependencies;
using ArchUnitNET.Loader;
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

    /// <summary>
    /// The folders of a project, the root too, form no cycle; counted by type, so that a full name counts as a using does.
    /// </summary>
    [Theory]
    [InlineData("Wergamon.Core")]
    [InlineData("Wergamon.FileSystem")]
    [InlineData("Wergamon.Codecs")]
    [InlineData("Wergamon.Worker")]
    [InlineData("Wergamon.Devices")]
    [InlineData("Wergamon.App")]
    [InlineData("Wergamon.Web")]
    [InlineData("Wergamon.Demo")]
    public void Folders_form_no_cycle(string project)
    {
        var arrows = Arrows(project).ToLookup(arrow => arrow.From);
        var done = new HashSet<string>();
        void Visit(string folder, List<Arrow> way)
        {
            Assert.False(way.Any(arrow => arrow.From == folder), "A cycle: " + string.Join(", ", way));
            if (!done.Contains(folder))
                foreach (var arrow in arrows[folder])
                    Visit(arrow.To, [.. way, arrow]);
            done.Add(folder);
        }

        foreach (var folder in arrows.Select(group => group.Key).ToList())
            Visit(folder, []);
    }

    /// <summary>Stations do not know each other; what they share lies below them.</summary>
    [Fact]
    public void Folders_of_the_application_refer_only_downwards()
    {
        string[] below = ["Storage", "Files", "Workers", "Runs", "Tracks", "Library", "Copies"];
        string[] stations = ["Intake", "Tags", "Convert", "Bench", "Sets", "Deliver"];
        foreach (var arrow in Arrows("Wergamon.App"))
        {
            var (from, to) = (arrow.From.Split('.')[0], arrow.To.Split('.')[0]);
            if (from.Length == 0 || from == to)
                continue;
            bool isDown = stations.Contains(from) ? below.Contains(to) : Array.IndexOf(below, to) is >= 0 and var place
                && place < Array.IndexOf(below, from);
            Assert.True(isDown, arrow.ToString());
        }
    }

    [Fact]
    public void Pages_of_a_station_do_not_use_those_of_another()
    {
        static string? Station(string folder) => folder.Split('.') is ["Pages", not "Shared" and var station, ..] ? station : null;
        Assert.DoesNotContain(
            Arrows("Wergamon.Web"), arrow => arrow.From.Length > 0 && Station(arrow.To) is { } to && Station(arrow.From) != to);
    }

    /// <summary>
    /// Which folder of a project uses which, with one type for each. The types that an attribute names for the serialiser are data,
    /// not arrows: a base of JSON lists all that derive from it.
    /// </summary>
    private static List<Arrow> Arrows(string project)
    {
        var architecture = new ArchLoader().LoadFilteredDirectory(
            Path.GetDirectoryName(Repository.Built(project))!, project + ".dll").Build();
        string Folder(IType type) => type.Namespace.FullName[Math.Min(project.Length + 1, type.Namespace.FullName.Length)..];
        bool IsOwn(IType type) =>
            type.Namespace?.FullName is { } name && (name == project || name.StartsWith(project + ".", StringComparison.Ordinal));
        return architecture.Types
            .Where(IsOwn)
            .SelectMany(type => type.Dependencies)
            .Where(use => use is not TypeReferenceDependency && use.Target is not GenericParameter && IsOwn(use.Target))
            .Select(use => new Arrow(Folder(use.Origin), Folder(use.Target), $"{use.Origin.Name} to {use.Target.Name}"))
            .Where(arrow => arrow.From != arrow.To)
            .DistinctBy(arrow => (arrow.From, arrow.To))
            .ToList();
    }

    /// <param name="Example">One type that uses another.</param>
    private sealed record Arrow(string From, string To, string Example)
    {
        public override string ToString() => $"{From} to {To} ({Example})";
    }
}
