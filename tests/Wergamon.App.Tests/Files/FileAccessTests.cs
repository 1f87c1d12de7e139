using System.Reflection.Metadata;
using System.Reflection.Metadata.Ecma335;
using System.Reflection.PortableExecutable;
using Wergamon.Testing;

namespace Wergamon.App.Tests.Files;

/// <summary>
/// Files are opened in one way: no code but the few places named here calls what .NET has for that, which follows links and waits for
/// pipes.
/// </summary>
public sealed class FileAccessTests
{
    private static readonly HashSet<string> Forbidden =
    [
        "System.IO.File", "System.IO.Directory", "System.IO.FileInfo", "System.IO.DirectoryInfo", "System.IO.FileStream..ctor",
        "System.IO.StreamReader..ctor(String)", "System.IO.Enumeration.FileSystemEnumerable`1",
    ];

    /// <summary>Types that may, with the reason.</summary>
    private static readonly Dictionary<string, string> Allowed = new()
    {
        ["Wergamon.App.Files.AllowedPaths"] = "follows links, on purpose, before a folder is chosen",
        ["Wergamon.App.Files.FolderBrowser"] = "lists folders to choose from, links included",
        ["Wergamon.App.Files.FreeSpace"] = "asks for a disk, opens nothing",
        ["Wergamon.App.Storage"] = "the database and its backups, in the data folder",
        ["Wergamon.App.Workers.SilenceClock"] = "reads /proc",
        ["Wergamon.Web.MachineLimits"] = "reads /proc",
        ["Wergamon.Web.CommandLine"] = "finds the worker's program",
    };

    [Theory]
    [InlineData("Wergamon.App")]
    [InlineData("Wergamon.Web")]
    [InlineData("Wergamon.Worker")]
    [InlineData("Wergamon.Codecs")]
    [InlineData("Wergamon.Devices")]
    [InlineData("Wergamon.Core")]
    public void Only_the_places_that_are_named_open_files_by_themselves(string assembly)
    {
        var owner = assembly switch
        {
            "Wergamon.Codecs" => "Wergamon.Worker",
            "Wergamon.Core" or "Wergamon.App" or "Wergamon.Devices" => "Wergamon.Web",
            _ => assembly
        };
        var found = Callers(Path.Combine(Path.GetDirectoryName(Repository.Built(owner))!, assembly + ".dll"))
            .Where(
                    call =>
                        !Allowed.Keys.Any(allowed => call.Type == allowed || call.Type.StartsWith(allowed + ".", StringComparison.Ordinal)))
                .Distinct()
                .Order()
                .ToList();
        Assert.Equal([], found);
    }

    /// <summary>The outermost type of every method that calls a forbidden member, found in the compiled code.</summary>
    private static IEnumerable<(string Type, string Member)> Callers(string path)
    {
        using var file = new PEReader(File.OpenRead(path));
        var metadata = file.GetMetadataReader();
        var members = new Dictionary<int, string>();
        foreach (var handle in metadata.MemberReferences)
        {
            var member = metadata.GetMemberReference(handle);
            if (member.Parent.Kind != HandleKind.TypeReference)
                continue;
            var type = metadata.GetTypeReference((TypeReferenceHandle)member.Parent);
            var name = $"{metadata.GetString(type.Namespace)}.{metadata.GetString(type.Name)}";
            if (Forbidden.Contains(name) || Forbidden.Contains($"{name}.{metadata.GetString(member.Name)}"))
                members[MetadataTokens.GetToken(handle)] = $"{name}.{metadata.GetString(member.Name)}";
        }

        foreach (var handle in metadata.MethodDefinitions)
        {
            var method = metadata.GetMethodDefinition(handle);
            if (method.RelativeVirtualAddress == 0)
                continue;
            var code = file.GetMethodBody(method.RelativeVirtualAddress).GetILBytes()!;
            // call, newobj, callvirt and ldftn, each followed by the token of the member.
            for (int i = 0; i + 5 <= code.Length; i++)
            {
                if (code[i] is 0x28 or 0x73 or 0x6F or 0x06 && members.TryGetValue(BitConverter.ToInt32(code, i + 1), out var member))
                    yield return (Outermost(metadata, method.GetDeclaringType()), member);
            }
        }
    }

    private static string Outermost(MetadataReader metadata, TypeDefinitionHandle handle)
    {
        var type = metadata.GetTypeDefinition(handle);
        while (!type.GetDeclaringType().IsNil)
            type = metadata.GetTypeDefinition(type.GetDeclaringType());
        return $"{metadata.GetString(type.Namespace)}.{metadata.GetString(type.Name)}";
    }
}
