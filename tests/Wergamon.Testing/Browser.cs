using System.Diagnostics;
using OpenQA.Selenium;
using OpenQA.Selenium.Chrome;
using OpenQA.Selenium.Interactions;

namespace Wergamon.Testing;

/// <summary>A headless Chromium that waits for conditions, never for fixed times.</summary>
public sealed class Browser : IDisposable
{
    private static readonly TimeSpan LongestWait = TimeSpan.FromMinutes(3);

    /// <summary>The browser and the workers share the cores with the test, which must not spin.</summary>
    private static readonly TimeSpan LookEvery = TimeSpan.FromMilliseconds(30);

    /// <summary>Cells of a row are parted by a blank.</summary>
    private const string TextAsShown = "const text = (element) => (element.matches('textarea, option') ? element.textContent : "
        + "element.innerText ?? element.textContent).replaceAll(/[\\t\\u00a0]/g, ' ').trim();";

    private readonly ChromeDriver _driver;
    private readonly Uri _home;

    public Browser(Uri home, int width = 1280, int height = 800)
    {
        _home = home;
        var options = new ChromeOptions { BinaryLocation = "/usr/bin/chromium" };
        options.AddArguments(
            "--headless", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking",
            "--disable-component-update",
            "--disable-sync", "--hide-scrollbars", "--autoplay-policy=no-user-gesture-required", $"--window-size={width},{height}");
        options.SetLoggingPreference(LogType.Browser, LogLevel.All);
        _driver = new ChromeDriver(ChromeDriverService.CreateDefaultService("/usr/bin", "chromedriver"), options);
        Resize(width, height);
    }

    public string Address => _driver.Url;

    /// <summary>Sets the size of the viewport.</summary>
    public void Resize(int width, int height) => _driver.ExecuteCdpCommand(
        "Emulation.setDeviceMetricsOverride",
        new Dictionary<string, object?> { ["width"] = width, ["height"] = height, ["deviceScaleFactor"] = 1, ["mobile"] = false });

    public void Go(string path) => _driver.Navigate().GoToUrl(new Uri(_home, path));

    /// <summary>Waits for a visible element and returns it.</summary>
    public IWebElement Find(string selector) => Until(() => Visible(selector, ""), selector, Shown);

    /// <summary>Waits for an element that contains these words.</summary>
    public IWebElement FindText(string selector, string words) =>
        Until(() => Visible(selector, words), $"{selector} with \"{words}\"", Shown);

    /// <summary>
    /// Waits for an element, with these words if any, and clicks it; searches again if the page replaces it at that moment.
    /// </summary>
    public void Click(string selector, string words = "") => Until(
        () =>
        {
            var element = Visible(selector, words);
            element?.Click();
            return element;
        },
        $"{selector} with \"{words}\"",
        Shown);

    /// <summary>
    /// Puts a value into a field as a person does who leaves it then; waits until what was sent before has been answered.
    /// </summary>
    public void Change(string selector, string value) => Until(
        () => Script(
            """
            const [selector, value] = arguments, field = document.querySelector(selector);
            if (!field || document.querySelector('.htmx-request, .htmx-swapping, .htmx-settling, .htmx-added'))
              return false;
            field.value = value;
            field.dispatchEvent(new Event('change', { bubbles: true }));
            return true;
            """,
            selector, value),
        selector, Shown);

    public IReadOnlyList<IWebElement> All(string selector) => _driver.FindElements(By.CssSelector(selector));

    /// <summary>The text of an element now; empty when it is missing.</summary>
    public string TextOf(string selector) => Texts(selector) is [var first, ..] ? first : "";

    /// <summary>The texts of all elements now, in the order of the page.</summary>
    public IReadOnlyList<string> Texts(string selector) => [.. ((IEnumerable<object>)Script(
        $"{TextAsShown} return [...document.querySelectorAll(arguments[0])].map(text)", selector)!).Cast<string>()];

    public void Press(string keys) => new Actions(_driver).SendKeys(keys).Perform();

    /// <summary>Presses keys while another is held down.</summary>
    public void Press(string keys, string held) =>
        new Actions(_driver).KeyDown(held).SendKeys(keys).KeyUp(held).Perform();

    /// <summary>Clicks while a key is held down.</summary>
    public void Click(IWebElement element, string key) =>
        new Actions(_driver).KeyDown(key).Click(element).KeyUp(key).Perform();

    /// <summary>Drags with a finger from the middle of one element to the lower edge of another.</summary>
    public void DragByTouch(IWebElement from, IWebElement to)
    {
        var finger = new PointerInputDevice(PointerKind.Touch);
        _driver.PerformActions(
            new ActionBuilder()
                .AddAction(finger.CreatePointerMove(from, 0, 0, TimeSpan.Zero))
                .AddAction(finger.CreatePointerDown(MouseButton.Touch))
                .AddAction(finger.CreatePointerMove(to, 0, to.Size.Height / 2 - 4, TimeSpan.FromMilliseconds(200)))
                .AddAction(finger.CreatePointerUp(MouseButton.Touch))
                .ToActionSequenceList());
    }

    public object? Script(string script, params object[] arguments) => _driver.ExecuteScript(script, arguments);

    public object? ScriptAsync(string script) => _driver.ExecuteAsyncScript(script);

    /// <summary>Runs something that leads to another page and waits for that page.</summary>
    public void Leave(Action action)
    {
        var page = _driver.FindElement(By.TagName("html"));
        action();
        Until(() => IsGone(page), "another page");
        Until(() => (string?)Script("return document.readyState") == "complete", "the page to load");
    }

    /// <summary>Errors and warnings in the console since the last call.</summary>
    public IReadOnlyList<string> Complaints() =>
        [.. _driver.Manage().Logs.GetLog(LogType.Browser).Where(entry => entry.Level >= LogLevel.Warning).Select(entry => entry.Message)];

    public void Picture(string path) => _driver.GetScreenshot().SaveAsFile(path);

    /// <summary>Waits until something is true or present, and returns it.</summary>
    /// <param name="shown">What is there instead, for the report of a failure.</param>
    public static T Until<T>(Func<T?> condition, string what, Func<string>? shown = null)
    {
        var watch = Stopwatch.StartNew();
        WebDriverException? last = null;
        while (watch.Elapsed < LongestWait)
        {
            try
            {
                if (condition() is { } found && found is not false)
                    return found;
            }
            catch (WebDriverException failure)
                when (failure is StaleElementReferenceException or JavaScriptException or UnknownErrorException)
            {
                // The page was just replaced, which the driver reports in several ways; the next attempt sees the new one.
                last = failure;
            }

            Task.Delay(LookEvery).GetAwaiter().GetResult();
        }

        throw new TimeoutException($"Waited in vain for {what}. {shown?.Invoke()}", last);
    }

    public void Dispose()
    {
        _driver.Quit();
        _driver.Dispose();
    }

    /// <summary>
    /// The first visible element with these words. One script, so that a page cannot change between the search and the look.
    /// </summary>
    private IWebElement? Visible(string selector, string words) => (IWebElement?)Script(
        TextAsShown + """
        const [selector, words] = arguments;
        // The options of a closed list have no box of their own.
        const shown = (element) => (element.closest('select') ?? element).checkVisibility({ visibilityProperty: true,
            opacityProperty: true });
        return [...document.querySelectorAll(selector)].find((element) => shown(element) && text(element).includes(words)) ?? null;
        """,
        selector,
        words);

    private string Shown() => $"{_driver.Url} shows: {string.Join(" ", Texts("main"))}";

    private static bool IsGone(IWebElement element)
    {
        try
        {
            return !element.Enabled;
        }
        catch (WebDriverException)
        {
            return true;
        }
    }
}
