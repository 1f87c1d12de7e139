namespace Wergamon.App.Storage;

/// <summary>
/// Marks a failure of something the application itself needs; the failing step is not to blame, and the caller has to wait.
/// </summary>
internal interface IOutage;
