namespace Wergamon.FileSystem;

/// <summary>Errors of the kernel as the exceptions that .NET has for them.</summary>
internal static class FileError
{
    public static Exception From(int error, string path) => error switch
    {
        Libc.NotFound => new FileNotFoundException($"{path} is not there.", path),
        Libc.AccessDenied or Libc.NotPermitted => new UnauthorizedAccessException($"Access to {path} is denied."),
        Libc.TooManyLinks or Libc.OtherDevice =>
            new LinkRefusedException($"{path} is a link, or leads through one. Links are not followed."),
        // A name that leads through a link to a folder, on kernels without openat2.
        Libc.NotAFolder => new LinkRefusedException($"{path} leads through a link, or through something that is no folder."),
        Libc.IsAFolder => new LinkRefusedException($"{path} is a folder, not a file; it was not opened."),
        Libc.NoDevice => new LinkRefusedException($"{path} is a pipe or device, not a file; it was not opened."),
        // With the number of the kernel, as .NET itself has it.
        Libc.Exists => new IOException($"{path} exists already.", error),
        _ => new IOException($"{path}: {Libc.TextOf(error)}", error),
    };
}
