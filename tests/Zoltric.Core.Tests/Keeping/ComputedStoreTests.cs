using Zoltric.Core.Keeping;

namespace Zoltric.Core.Tests.Keeping;

public class ComputedStoreTests
{
    [Fact]
    public void What_was_used_longest_ago_goes_first_and_a_sheet_after_all_that_needs_it()
    {
        var store = new ComputedStore(100);
        var (a, b) = (store.ShelfOf("a"), store.ShelfOf("b"));
        a.Keep(Shelf.Sheets, "sheet a", () => 40);
        a.Keep("first", "belief one", () => 20);
        b.Keep(Shelf.Sheets, "sheet b", () => 30);
        store.HeldBytes.ShouldBe(90);
        a.Find<string>("first").ShouldBe("belief one");
        // Sheet b was used before the belief on sheet a.
        a.Keep("second", "belief two", () => 20);
        store.HeldBytes.ShouldBe(80);
        b.Find<string>(Shelf.Sheets).ShouldBeNull();
        a.Keep("third", "belief three", () => 30);
        a.Find<string>("first").ShouldBeNull();
        store.ShelfOf("a").Find<string>(Shelf.Sheets).ShouldBe("sheet a");
    }

    [Fact]
    public void What_grows_is_counted_anew_and_the_entry_used_last_stays()
    {
        var store = new ComputedStore(100);
        var held = 10L;
        store.ShelfOf("a").Keep(Shelf.Sheets, "sheet a", () => held);
        store.ShelfOf("b").Keep(Shelf.Sheets, "sheet b", () => 10);
        held = 95;
        store.ShelfOf("c").Keep(Shelf.Sheets, "sheet c", () => 10);
        store.HeldBytes.ShouldBe(20);
        store.ShelfOf("d").Keep(Shelf.Sheets, "sheet d", () => 1000);
        store.HeldBytes.ShouldBe(1000);
        store.ShelfOf("d").Keep(Shelf.Sheets, "another", () => 1).ShouldBe("sheet d");
    }

    [Fact]
    public void Of_a_sheet_that_is_let_go_nothing_stays_and_of_others_all()
    {
        var store = new ComputedStore(100);
        var (a, b) = (store.ShelfOf("a"), store.ShelfOf("b"));
        a.Keep(Shelf.Sheets, "sheet a", () => 40);
        a.Keep("first", "belief one", () => 20);
        b.Keep(Shelf.Sheets, "sheet b", () => 30);
        store.Drop("a");
        store.HeldBytes.ShouldBe(30);
        a.Find<string>("first").ShouldBeNull();
        b.Find<string>(Shelf.Sheets).ShouldBe("sheet b");
        a.Keep(Shelf.Sheets, "anew", () => 10).ShouldBe("anew");
    }

    private sealed class Runs(params long[] parts) : IGivesBack
    {
        public List<long> Parts { get; } = [.. parts];
        public long? OldestUse => Parts.Count > 0 ? 0 : null;
        public long PartBytes => Parts.Sum();

        public long DropOldest()
        {
            var part = Parts[0];
            Parts.RemoveAt(0);
            return part;
        }
    }

    [Fact]
    public void Runs_go_before_what_was_concluded_from_them_but_for_a_quarter_of_the_budget()
    {
        var store = new ComputedStore(100);
        var (a, runs) = (store.ShelfOf("a"), new Runs(40, 20));
        a.Keep("findings", "one", () => 30);
        a.Keep(Shelf.Sheets, runs, () => runs.PartBytes);
        a.Keep("more findings", "two", () => 15);
        runs.Parts.ShouldBe([20]);
        a.Find<string>("findings").ShouldBe("one");
        a.Find<string>("more findings").ShouldBe("two");
        // What is left of the runs is less than a quarter: now what was used longest ago goes.
        a.Keep("third", "three", () => 40);
        runs.Parts.ShouldBe([20]);
        a.Find<string>("findings").ShouldBeNull();
        a.Find<string>("more findings").ShouldBe("two");
    }
}
