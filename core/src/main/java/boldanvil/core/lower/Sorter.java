package boldanvil.core.lower;

import boldanvil.core.finding.Finding;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Comparator;
import java.util.Deque;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.PriorityQueue;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * Puts the blocks of one task in an order in which each comes after those its outputs depend on, otherwise in the order of
 * the sheet (Kahn, Topological sorting of large networks, CACM 5, 1962). What cannot be ordered is an algebraic loop.
 */
final class Sorter {
    private final List<FlatBlock> blocks;
    private final Map<FlatBlock, Integer> index = new IdentityHashMap<>();
    private final List<Finding> findings;

    private Sorter(List<FlatBlock> blocks, List<Finding> findings) {
        this.blocks = blocks;
        this.findings = findings;
        for (int i = 0; i < blocks.size(); i++) {
            index.put(blocks.get(i), i);
        }
    }

    /** @param blocks all of one task, in sheet order */
    static List<FlatBlock> sort(List<FlatBlock> blocks, List<Finding> findings) {
        return new Sorter(blocks, findings).sorted();
    }

    private List<FlatBlock> sorted() {
        int n = blocks.size();
        int[] waitsFor = new int[n];
        List<List<Integer>> readers = new ArrayList<>();
        for (int i = 0; i < n; i++) {
            readers.add(new ArrayList<>());
        }
        for (int i = 0; i < n; i++) {
            for (FlatBlock before : directSources(blocks.get(i))) {
                readers.get(index.get(before)).add(i);
                waitsFor[i]++;
            }
        }
        var ready = new PriorityQueue<Integer>(Comparator.naturalOrder());
        for (int i = 0; i < n; i++) {
            if (waitsFor[i] == 0) {
                ready.add(i);
            }
        }
        List<FlatBlock> order = new ArrayList<>(n);
        while (!ready.isEmpty()) {
            int i = ready.poll();
            order.add(blocks.get(i));
            for (int r : readers.get(i)) {
                if (--waitsFor[r] == 0) {
                    ready.add(r);
                }
            }
        }
        if (order.size() < n) {
            report(waitsFor);
        }
        return order;
    }

    /** Blocks of this task on whose present outputs the block's own present outputs depend. */
    private List<FlatBlock> directSources(FlatBlock f) {
        List<FlatBlock> sources = new ArrayList<>();
        for (int i = 0; i < f.sources().size(); i++) {
            var s = f.source(i);
            if (s != null && f.face().inputs().get(i).direct() && index.containsKey(s.block())) {
                sources.add(s.block());
            }
        }
        return sources;
    }

    /** Names each loop once, as the path of blocks. Every block left over waits for another one left over. */
    private void report(int[] waitsFor) {
        Set<FlatBlock> named = Collections.newSetFromMap(new IdentityHashMap<>());
        for (int i = 0; i < waitsFor.length; i++) {
            if (waitsFor[i] == 0 || named.contains(blocks.get(i))) {
                continue;
            }
            Deque<FlatBlock> walk = new ArrayDeque<>();
            Set<FlatBlock> seen = Collections.newSetFromMap(new IdentityHashMap<>());
            FlatBlock at = blocks.get(i);
            while (seen.add(at)) {
                walk.push(at);
                at = waiting(at, waitsFor);
            }
            // The walk went against the signal; popping it goes with the signal again, from and to the same block.
            List<FlatBlock> loop = new ArrayList<>(List.of(at));
            while (walk.peek() != at) {
                loop.add(walk.pop());
            }
            loop.add(at);
            if (Collections.disjoint(named, loop)) {
                findings.add(Finding.error(at.path(), "Algebraic loop: each of these needs the result of the one before within "
                        + "the same step: " + loop.stream().map(FlatBlock::path).collect(Collectors.joining(" → ")) + ".",
                        "Put a Unit delay or an integrator into the loop."));
            }
            named.addAll(seen);
        }
    }

    private FlatBlock waiting(FlatBlock f, int[] waitsFor) {
        return directSources(f).stream().filter(s -> waitsFor[index.get(s)] > 0).findFirst().orElseThrow();
    }
}
