namespace Wergamon.App.Storage;

/// <summary>
/// Marks a failure of what the application itself needs; the step that meets it is not to blame, and the caller has to wait.
/// </summary>
internal interface IOutage;
