using System.Globalization;
using System.Net;
using System.Text;
using Zoltric.Core.Procedures;

namespace Zoltric.Drawing;

/// <summary>
/// A procedure as a tree from left to right: every step once, with a pointer where it is met again, so that no line crosses another.
/// Told by shape in black and white: a step is a box, a repair has a double frame, what has to be asked a dashed one.
/// </summary>
public static class ProcedureChart
{
    private const int Width = 250,
        Between = 90,
        Line = 17,
        Letters = 34,
        MostLines = 5,
        Gap = 14;

    private sealed record Node(string Text, string Shape, IReadOnlyList<(string Answer, Node To)> Next)
    {
        /// <summary>Number of the step that it is or points to; empty for an end.</summary>
        public string Step { get; init; } = "";
        public double Y { get; set; }
        public List<string> Lines { get; } = Wrapped(Text);
        public double Height => Lines.Count * Line + 14;
    }

    public static string Svg(Procedure procedure)
    {
        ArgumentNullException.ThrowIfNull(procedure);
        if (procedure.Steps.Count == 0)
            return "";
        var root = Of(procedure, procedure.Steps[0], []);
        double bottom = 10;
        var deep = Place(root, ref bottom, 0);
        var s = new StringBuilder();
        var wide = (deep + 1) * (Width + Between);
        var name = E($"Flow chart: {procedure.Title}");
        s.Append(
            CultureInfo.InvariantCulture,
            $"<svg class=\"procedure-chart\" role=\"img\" aria-label=\"{name}\" viewBox=\"0 0 {wide} {bottom:0}\" width=\"{wide}\" "
        );
        s.Append(CultureInfo.InvariantCulture, $"height=\"{bottom:0}\" xmlns=\"http://www.w3.org/2000/svg\">");
        Draw(s, root, 0);
        return s.Append("</svg>").ToString();
    }

    private static Node Of(Procedure p, ProcedureStep step, HashSet<string> drawn)
    {
        drawn.Add(step.Number);
        var next = new List<(string, Node)>();
        foreach (var a in step.Answers)
            next.Add(
                (
                    a.When.ToString(),
                    a.Leads switch
                    {
                        StepLead.ToStep to when p.Find(to.Number) is { } other && !drawn.Contains(other.Number) => Of(p, other, drawn),
                        StepLead.ToStep to => new Node($"→ step {to.Number}", "pointer", []) { Step = to.Number },
                        StepLead.Repair r => new Node(r.Text, "repair", []),
                        StepLead.Ask ask => new Node(ask.Text, "ask", []),
                        _ => new Node("", "ask", []),
                    }
                )
            );
        return new Node($"{step.Number}. {step.Question}", "step", next) { Step = step.Number };
    }

    private static int Place(Node n, ref double bottom, int depth)
    {
        var deep = depth;
        if (n.Next.Count == 0)
        {
            n.Y = bottom + n.Height / 2;
            bottom += n.Height + Gap;
            return deep;
        }
        var top = bottom;
        foreach (var (_, to) in n.Next)
            deep = Math.Max(deep, Place(to, ref bottom, depth + 1));
        // It stands at the height of its first branch, so that reading begins at the upper left.
        n.Y = Math.Max(n.Next[0].To.Y, top + n.Height / 2);
        bottom = Math.Max(bottom, n.Y + n.Height / 2 + Gap);
        return deep;
    }

    private static void Draw(StringBuilder s, Node n, int depth)
    {
        var x = depth * (Width + Between) + 6;
        var top = n.Y - n.Height / 2;
        foreach (var (answer, to) in n.Next)
        {
            var (from, until) = (x + Width, x + Width + Between);
            s.Append(CultureInfo.InvariantCulture, $"<path class=\"way\" d=\"M{from} {n.Y:0.#}H{from + 10}V{to.Y:0.#}H{until}\"/>");
            s.Append(
                CultureInfo.InvariantCulture,
                $"<text class=\"answer\" x=\"{from + 14}\" y=\"{to.Y - 4:0.#}\">{E(Cut(answer, 12))}</text>"
            );
            Draw(s, to, depth + 1);
        }
        s.Append(n.Step.Length > 0 ? $"<g data-step=\"{E(n.Step)}\">" : "<g>");
        s.Append(
            CultureInfo.InvariantCulture,
            $"<rect class=\"{n.Shape}\" x=\"{x}\" y=\"{top:0.#}\" width=\"{Width}\" height=\"{n.Height:0.#}\" rx=\"4\"/>"
        );
        if (n.Shape == "repair")
            s.Append(
                CultureInfo.InvariantCulture,
                $"<rect class=\"inner\" x=\"{x + 3}\" y=\"{top + 3:0.#}\" width=\"{Width - 6}\" height=\"{n.Height - 6:0.#}\" rx=\"2\"/>"
            );
        for (var i = 0; i < n.Lines.Count; i++)
            s.Append(CultureInfo.InvariantCulture, $"<text x=\"{x + 9}\" y=\"{top + 20 + i * Line:0.#}\">{E(n.Lines[i])}</text>");
        s.Append("</g>");
    }

    private static List<string> Wrapped(string text)
    {
        List<string> lines = [];
        var line = "";
        foreach (var word in text.Split(' ').Select(w => Cut(w, Letters)))
            if (line.Length > 0 && line.Length + word.Length + 1 > Letters)
            {
                lines.Add(line);
                line = word;
            }
            else
                line = line.Length == 0 ? word : $"{line} {word}";
        lines.Add(line);
        return lines.Count <= MostLines ? lines : [.. lines.Take(MostLines - 1), Cut(lines[MostLines - 1], Letters - 1) + "…"];
    }

    private static string Cut(string text, int most) => text.Length <= most ? text : text[..(most - 1)] + "…";

    private static string E(string text) => WebUtility.HtmlEncode(text);
}
