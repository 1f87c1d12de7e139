namespace Wergamon.Testing;

/// <summary>Paths in the checkout, relative to the running tests.</summary>
public static class Repository
{
    public static string Root { get; } = FindRoot();

    /// <summary>The built assembly of a project, in the same configuration as the tests.</summary>
    public static string Built(string project)
    {
        var configuration = new DirectoryInfo(AppContext.BaseDirectory.TrimEnd('/')).Name;
        return Path.Combine(Root, "artifacts", "bin", project, configuration, project + ".dll");
    }

    private static string FindRoot()
    {
        var folder = new DirectoryInfo(AppContext.BaseDirectory);
        while (folder is not null && !File.Exists(Path.Combine(folder.FullName, "Wergamon.slnx")))
            folder = folder.Parent;
        return folder?.FullName ?? throw new InvalidOperationException("The tests do not run inside the checkout.");
    }
}
