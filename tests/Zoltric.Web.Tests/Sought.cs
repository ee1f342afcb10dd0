using System.Drawing;
using OpenQA.Selenium;

namespace Zoltric.Web.Tests;

/// <summary>
/// What stands at a place of the page, found again when the page has put it anew between finding and asking. A press is never done twice:
/// what
/// is gone was not pressed.
/// </summary>
public sealed class Sought : IWebElement, IWrapsElement
{
    private const int Tries = 20;
    private static readonly TimeSpan Between = TimeSpan.FromMilliseconds(100);
    private readonly Func<IWebElement> _find;

    public Sought(Func<IWebElement> find)
    {
        ArgumentNullException.ThrowIfNull(find);
        _find = find;
        WrappedElement = find();
    }

    public IWebElement WrappedElement { get; private set; }
    public string TagName => Ask(e => e.TagName);
    public string Text => Ask(e => e.Text);
    public bool Enabled => Ask(e => e.Enabled);
    public bool Selected => Ask(e => e.Selected);
    public Point Location => Ask(e => e.Location);
    public Size Size => Ask(e => e.Size);
    public bool Displayed => Ask(e => e.Displayed);

    public string? GetAttribute(string attributeName) => Ask(e => e.GetAttribute(attributeName));

    public string? GetDomAttribute(string attributeName) => Ask(e => e.GetDomAttribute(attributeName));

    public string? GetDomProperty(string propertyName) => Ask(e => e.GetDomProperty(propertyName));

    public string GetCssValue(string propertyName) => Ask(e => e.GetCssValue(propertyName));

    public ISearchContext GetShadowRoot() => Ask(e => e.GetShadowRoot());

    public IWebElement FindElement(By by) => Ask(e => e.FindElement(by));

    public System.Collections.ObjectModel.ReadOnlyCollection<IWebElement> FindElements(By by) => Ask(e => e.FindElements(by));

    public void Clear() => Do(e => e.Clear());

    public void SendKeys(string text) => Do(e => e.SendKeys(text));

    public void Submit() => Do(e => e.Submit());

    public void Click() => Do(e => e.Click());

    private void Do(Action<IWebElement> act) =>
        Ask(e =>
        {
            act(e);
            return true;
        });

    private T Ask<T>(Func<IWebElement, T> ask)
    {
        for (var left = Tries; ; left--)
            try
            {
                return ask(WrappedElement);
            }
            catch (WebDriverException e) when (left > 0 && e is (StaleElementReferenceException or ElementNotInteractableException))
            {
                // Gone, or there and not yet to be touched: a page that is just being put.
                Thread.Sleep(Between);
                try
                {
                    WrappedElement = _find();
                }
                catch (NoSuchElementException) { }
            }
    }
}
