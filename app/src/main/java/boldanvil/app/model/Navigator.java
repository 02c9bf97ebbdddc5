package boldanvil.app.model;

import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Places;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.finding.Place;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.List;
import java.util.Optional;

/** Which sheet is open, and the way there. */
public final class Navigator {
    /** A step of the way: what the crumb reads and the diagram path it leads to; empty for the system sheet. */
    public record Crumb(String title, String path) {}

    private final Workspace workspace;
    private final List<Runnable> listeners = new ArrayList<>();
    private static final int HISTORY = 100;

    private final Deque<String> back = new ArrayDeque<>();
    private final Deque<String> forward = new ArrayDeque<>();
    private String path = "";
    private String wanted = "";

    public Navigator(Workspace workspace) {
        this.workspace = workspace;
    }

    public void onChange(Runnable listener) {
        listeners.add(listener);
    }

    /** Diagram path of the open sheet; empty for the system sheet. */
    public String path() {
        return path;
    }

    /** The open sheet; empty for the system sheet. */
    public Optional<SheetRef> sheet() {
        return sheetAt(path);
    }

    private Optional<SheetRef> sheetAt(String at) {
        if (at.isEmpty()) {
            return Optional.empty();
        }
        if (!at.contains("/")) {
            return workspace.project().part(at).map(p -> new SheetRef(p.id(), p.main().id()));
        }
        return Places.find(workspace.project(), at)
                .map(p -> new SheetRef(p.sheet().part(), p.block().inner()));
    }

    /** Opens the sheet at a path, or the nearest one above it that exists. */
    public void open(String target) {
        String at = target;
        while (!at.isEmpty() && sheetAt(at).flatMap(r -> workspace.project().sheet(r)).isEmpty()) {
            at = at.contains("/") ? at.substring(0, at.lastIndexOf('/')) : "";
        }
        if (!at.equals(path)) {
            back.push(path);
            forward.clear();
            if (back.size() > HISTORY) {
                back.removeLast();
            }
        }
        path = at;
        List.copyOf(listeners).forEach(Runnable::run);
    }

    /** Opens the sheet that was open before; nothing where there is none. */
    public void back() {
        move(back, forward);
    }

    /** Opens the sheet from which {@link #back} came. */
    public void forward() {
        move(forward, back);
    }

    private void move(Deque<String> from, Deque<String> to) {
        if (!from.isEmpty()) {
            String target = from.pop();
            List<String> keptFrom = List.copyOf(from);
            List<String> keptTo = new ArrayList<>(to);
            keptTo.addFirst(path);
            open(target);
            from.clear();
            from.addAll(keptFrom);
            to.clear();
            to.addAll(keptTo);
        }
    }

    /** Forgets where it has been, as for another project. */
    public void forget() {
        back.clear();
        forward.clear();
    }

    /** Opens what a block or part of the open sheet stands for. */
    public void enter(String id) {
        var sheet = sheet();
        if (sheet.isEmpty()) {
            open(id);
        } else {
            workspace.project().sheet(sheet.get()).flatMap(s -> s.block(id)).map(Block::name)
                    .ifPresent(name -> open(path + "/" + name));
        }
    }

    public void up() {
        open(path.contains("/") ? path.substring(0, path.lastIndexOf('/')) : "");
    }

    /** Opens the sheet a place is on; the system sheet for places that are on none, and remembers the block, see {@link #takeWanted}. */
    public void show(Place place) {
        String block = place.sheetPath().orElse("");
        wanted = block.contains("/") ? block.substring(block.lastIndexOf('/') + 1) : "";
        open(block.contains("/") ? block.substring(0, block.lastIndexOf('/')) : "");
    }

    /** The name of the block that was last asked for; empty after it has been taken. */
    public String takeWanted() {
        String w = wanted;
        wanted = "";
        return w;
    }

    /** The way from the project to the open sheet. */
    public List<Crumb> crumbs() {
        List<Crumb> crumbs = new ArrayList<>();
        crumbs.add(new Crumb(workspace.project().name(), ""));
        String at = "";
        for (String word : path.isEmpty() ? new String[0] : path.split("/")) {
            at = at.isEmpty() ? word : at + "/" + word;
            String title = at.contains("/") ? word : workspace.project().part(word).map(p -> p.title()).orElse(word);
            crumbs.add(new Crumb(title, at));
        }
        return crumbs;
    }
}
