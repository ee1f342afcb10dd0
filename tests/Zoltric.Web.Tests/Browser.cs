using System.Runtime.CompilerServices;
using OpenQA.Selenium;
using OpenQA.Selenium.Chrome;
using OpenQA.Selenium.Support.UI;

namespace Zoltric.Web.Tests;

/// <summary>Headless Chromium at an exact size.</summary>
public sealed class Browser : IDisposable
{
    private readonly string _profile = Directory.CreateTempSubdirectory("zoltric-chromium").FullName;

    public ChromeDriver Driver { get; }

    /// <param name="trusts">A certificate (DER) that its owner has taken in as an authority's, on top of those of the system.</param>
    /// <param name="more">Arguments of Chromium beside the usual ones.</param>
    public Browser(int width, int height, bool phone = false, byte[]? trusts = null, params string[] more)
    {
        var options = new ChromeOptions { BinaryLocation = "/usr/bin/chromium" };
        options.AddArguments(
            "--headless",
            "--no-sandbox",
            "--disable-gpu",
            "--disable-background-networking",
            "--disable-component-update",
            "--no-first-run",
            "--hide-scrollbars",
            $"--window-size={width},{height}",
            $"--user-data-dir={_profile}"
        );
        options.AddArguments(more);
        options.SetLoggingPreference(LogType.Browser, LogLevel.Severe);
        var service = ChromeDriverService.CreateDefaultService("/usr/bin", "chromedriver");
        if (trusts is not null)
        {
            TakeIn(trusts);
            service.DriverProcessStarting += (_, e) => e.DriverServiceProcessStartInfo.Environment["HOME"] = _profile;
        }
        Driver = new ChromeDriver(service, options, TimeSpan.FromMinutes(2));
        Size(width, height, phone);
    }

    /// <summary>Gives the page another window.</summary>
    public void Size(int width, int height, bool phone = false) =>
        Driver.ExecuteCdpCommand(
            "Emulation.setDeviceMetricsOverride",
            new Dictionary<string, object?>
            {
                ["width"] = width,
                ["height"] = height,
                ["deviceScaleFactor"] = 1,
                ["mobile"] = phone,
            }
        );

    /// <summary>Into the store of certificates that Chromium reads in a home of its own.</summary>
    private void TakeIn(byte[] certificate)
    {
        var store = Directory.CreateDirectory(Path.Combine(_profile, ".pki", "nssdb")).FullName;
        var file = Path.Combine(_profile, "authority.crt");
        File.WriteAllBytes(file, certificate);
        foreach (
            var args in new string[][]
            {
                ["-d", $"sql:{store}", "-N", "--empty-password"],
                ["-d", $"sql:{store}", "-A", "-t", "C,,", "-n", "workshop", "-i", file],
            }
        )
        {
            using var p = System.Diagnostics.Process.Start("certutil", args);
            p.WaitForExit();
            p.ExitCode.ShouldBe(0);
        }
    }

    public IWebElement Find(string css) => new Sought(() => Driver.FindElement(By.CssSelector(css)));

    public IReadOnlyList<IWebElement> All(string css) => Driver.FindElements(By.CssSelector(css));

    public bool Has(string css) => All(css).Count > 0;

    /// <summary>Brings the element to the middle of the screen, as a thumb would, and clicks it once it lies still there.</summary>
    public void Click(IWebElement element)
    {
        const string place =
            "arguments[0].scrollIntoView({block: 'center', behavior: 'instant'});"
            + "const r = arguments[0].getBoundingClientRect();"
            + "return document.fonts.status + document.readyState + [r.left, r.top + scrollY, r.width, r.height];";
        // A page that is still being laid out would move away from under the press, which then meets nothing.
        string? before = null;
        for (var look = 0; look < 50; look++)
            if (
                before == (before = (string?)Driver.ExecuteScript(place, element))
                && before?.StartsWith("loadedcomplete", StringComparison.Ordinal) is true
            )
                break;
        element.Click();
    }

    /// <summary>Presses what is found there, also while the page puts it anew.</summary>
    public void Click(string css) => Click(() => Find(css), css);

    /// <summary>Presses once what is found so, also while the page puts it anew.</summary>
    public void Click(Func<IWebElement> find, [CallerArgumentExpression(nameof(find))] string what = "")
    {
        var pressed = false;
        Until(
            () =>
            {
                // A press may have led to a page that is still coming in; it is not pressed again.
                if (!pressed)
                    Click(find());
                return pressed = true;
            },
            what
        );
    }

    /// <summary>Writes into a field what it had not.</summary>
    public void Fill(string css, string value) =>
        Until(
            () =>
            {
                var field = Find(css);
                field.Clear();
                field.SendKeys(value);
                return true;
            },
            css
        );

    /// <summary>No script has failed and nothing was missing, since this was last asked.</summary>
    public void NothingOnTheConsole() =>
        Driver.Manage().Logs.GetLog(LogType.Browser).Where(e => e.Level == LogLevel.Severe).Select(e => e.Message).ShouldBeEmpty();

    /// <summary>Goes on under this name, as the bench would keep it.</summary>
    public void As(string name)
    {
        Driver.Manage().Cookies.AddCookie(new Cookie("zoltric-name", Uri.EscapeDataString(name)));
        Driver.Navigate().Refresh();
    }

    /// <summary>The network as a phone has it: none, or late by so many milliseconds.</summary>
    public void Network(bool offline = false, int latency = 0)
    {
        Driver.ExecuteCdpCommand("Network.enable", []);
        Driver.ExecuteCdpCommand(
            "Network.emulateNetworkConditions",
            new Dictionary<string, object?>
            {
                ["offline"] = offline,
                ["latency"] = latency,
                ["downloadThroughput"] = -1,
                ["uploadThroughput"] = -1,
            }
        );
    }

    /// <summary>Waits until nothing is being asked of the server or put on the page.</summary>
    public void Settle() => Until(() => !Has(".htmx-request, .htmx-swapping, .htmx-settling, .htmx-added"), "the page does not settle");

    /// <summary>Waits until the script's truth changes hands; the page may be swapped meanwhile.</summary>
    public void Until(Func<bool> done, string what)
    {
        try
        {
            Wait(done, what);
        }
        catch (WebDriverTimeoutException e)
        {
            // A press that met nothing leaves nothing focused; one that is not answered leaves its button.
            const string stands = "return location.href + ', focus on ' + (document.activeElement?.outerHTML ?? '').slice(0, 120)";
            throw new WebDriverTimeoutException($"{e.Message}; at {Driver.ExecuteScript(stands)}", e);
        }
    }

    private void Wait(Func<bool> done, string what) =>
        new WebDriverWait(Driver, TimeSpan.FromSeconds(60)) { Message = what }.Until(_ =>
        {
            // A page that is still coming in may have what is waited for and not yet what comes after it.
            try
            {
                return done() && (string?)Driver.ExecuteScript("return document.readyState") == "complete";
            }
            catch (StaleElementReferenceException)
            {
                return false;
            }
            catch (NoSuchElementException)
            {
                return false;
            }
            // What is there and cannot be touched yet, or lies under something that is about to go.
            catch (ElementNotInteractableException)
            {
                return false;
            }
            // The same, as the browser says it when a node goes while it is being read.
            catch (UnknownErrorException e) when (e.Message.Contains("does not belong to the document", StringComparison.Ordinal))
            {
                return false;
            }
            // What is sought among elements of a page that is just being loaded.
            catch (InvalidOperationException)
            {
                return false;
            }
        });

    /// <summary>What a part of the page says, or an attribute of it, also while the page puts it anew.</summary>
    public string Says(string css, string? attribute = null)
    {
        var said = "";
        Until(
            () =>
            {
                var at = Find(css);
                said = (attribute is null ? at.Text : at.GetAttribute(attribute)) ?? "";
                return true;
            },
            css
        );
        return said;
    }

    /// <summary>Keeps a picture of the screen when ZOLTRIC_SHOTS names a folder.</summary>
    public void Shot(string name)
    {
        if (Environment.GetEnvironmentVariable("ZOLTRIC_SHOTS") is not { Length: > 0 } folder)
            return;
        Directory.CreateDirectory(folder);
        Driver.GetScreenshot().SaveAsFile(Path.Combine(folder, name + ".png"));
    }

    public void Dispose()
    {
        Driver.Quit();
        Driver.Dispose();
        try
        {
            Directory.Delete(_profile, true);
        }
        catch (IOException) { }
    }
}
