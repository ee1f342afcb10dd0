using System.Globalization;
using System.Net.Http.Json;
using System.Text.Json;
using OpenQA.Selenium;

namespace Zoltric.Web.Tests;

/// <summary>A technician at a machine with a known fault: reads what the order asks for from the machine's own simulation.</summary>
public sealed class Technician(ServerProcess server, Browser b, string sheet, params string[] faults)
{
    public (double? Value, string Text) Read(string line) => Simulate(server, sheet, line, faults);

    /// <summary>What the meter shows on a machine with these faults.</summary>
    public static (double? Value, string Text) Simulate(ServerProcess server, string sheet, string line, params string[] faults)
    {
        using var response = server.Client.PostAsJsonAsync("/api/v1/simulate", new { sheet, faults, lines = new[] { line } }).Result;
        response.IsSuccessStatusCode.ShouldBeTrue(response.Content.ReadAsStringAsync().Result);
        var result = response.Content.ReadFromJsonAsync<JsonElement>().Result.GetProperty("results")[0];
        var value = result.GetProperty("value");
        return (value.ValueKind == JsonValueKind.Number ? value.GetDouble() : null, result.GetProperty("text").GetString()!);
    }

    public string Order => b.Find("#order").GetAttribute("data-line")!;

    /// <summary>Obeys orders until a fault is found; the number of readings it took.</summary>
    /// <param name="answer">How one reading is put in.</param>
    public int Trace(Action<string, double?, string> answer, int most = 25)
    {
        var n = 0;
        while (!b.Has(".order .found") && n++ < most)
        {
            var line = Order;
            var (value, text) = Read(line);
            answer(line, value, text);
            b.Until(() => !b.Has("#order") || Order != line || b.Has(".order .found"), $"no new order after {line}");
        }
        b.Has(".order .found").ShouldBeTrue($"nothing found after {n} readings");
        return n;
    }

    /// <summary>Types values, taps words.</summary>
    public int Trace() => Trace((_, value, text) =>
    {
        if (value is { } v) b.Find("#text").SendKeys(string.Create(CultureInfo.InvariantCulture, $"{v:0.00}") + Keys.Enter);
        else if (text == "OL") b.Find("#text").SendKeys("OL" + Keys.Enter);
        else b.Click(b.All(".answer").Single(a => a.FindElement(By.TagName("strong")).Text == text));
    });
}
