namespace Wergamon.Web;

/// <summary>Another server uses the data folder.</summary>
internal sealed class DataFolderInUseException : Exception;
