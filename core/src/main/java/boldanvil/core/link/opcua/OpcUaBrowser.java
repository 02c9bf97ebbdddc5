package boldanvil.core.link.opcua;

import static org.eclipse.milo.opcua.stack.core.types.builtin.unsigned.Unsigned.uint;

import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.link.DeviceLink;
import boldanvil.core.link.Tag;
import boldanvil.core.link.TagType;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.CompletableFuture;
import java.util.function.BooleanSupplier;
import org.eclipse.milo.opcua.sdk.client.OpcUaClient;
import org.eclipse.milo.opcua.stack.core.AttributeId;
import org.eclipse.milo.opcua.stack.core.NodeIds;
import org.eclipse.milo.opcua.stack.core.types.builtin.ByteString;
import org.eclipse.milo.opcua.stack.core.types.builtin.DataValue;
import org.eclipse.milo.opcua.stack.core.types.builtin.LocalizedText;
import org.eclipse.milo.opcua.stack.core.types.builtin.NodeId;
import org.eclipse.milo.opcua.stack.core.types.builtin.QualifiedName;
import org.eclipse.milo.opcua.stack.core.types.enumerated.BrowseDirection;
import org.eclipse.milo.opcua.stack.core.types.enumerated.BrowseResultMask;
import org.eclipse.milo.opcua.stack.core.types.enumerated.NodeClass;
import org.eclipse.milo.opcua.stack.core.types.enumerated.TimestampsToReturn;
import org.eclipse.milo.opcua.stack.core.types.structured.BrowseDescription;
import org.eclipse.milo.opcua.stack.core.types.structured.BrowseResult;
import org.eclipse.milo.opcua.stack.core.types.structured.ReadValueId;
import org.eclipse.milo.opcua.stack.core.types.structured.ReferenceDescription;

/** Finds the variables below the objects of a server, level by level, many nodes in one request. */
final class OpcUaBrowser {
    private static final int NODES_AT_ONCE = 400;
    private static final int ATTRIBUTES_AT_ONCE = 900;
    private static final int DEEPEST = 32;

    /** Waits for an answer. */
    interface Asking {
        <T> T asked(CompletableFuture<T> answer);
    }

    /** A node whose children are asked for. */
    private record Node(NodeId id, String path) {}

    /** A variable found. */
    private record Found(NodeId id, String path) {}

    private final OpcUaClient client;
    private final Asking asking;
    private final Set<NodeId> seen = new HashSet<>();
    private final List<Found> found = new ArrayList<>();

    OpcUaBrowser(OpcUaClient client, Asking asking) {
        this.client = client;
        this.asking = asking;
    }

    List<Tag> browse(BooleanSupplier cancelled) {
        List<Node> level = List.of(new Node(NodeIds.ObjectsFolder, ""));
        seen.add(NodeIds.Server);
        for (int depth = 0; depth < DEEPEST && !level.isEmpty(); depth++) {
            List<Node> next = new ArrayList<>();
            for (int from = 0; from < level.size(); from += NODES_AT_ONCE) {
                stopIf(cancelled);
                children(level.subList(from, Math.min(level.size(), from + NODES_AT_ONCE)), next);
            }
            level = next;
        }
        return tags(cancelled);
    }

    private static void stopIf(BooleanSupplier cancelled) {
        if (cancelled.getAsBoolean()) {
            throw FindingException.of(Place.named("browse"), "Browsing was cancelled.", "Browse again.");
        }
    }

    private void children(List<Node> parents, List<Node> next) {
        var mask = uint(NodeClass.Object.getValue() | NodeClass.Variable.getValue());
        var wanted = parents.stream().map(p -> new BrowseDescription(p.id(), BrowseDirection.Forward, NodeIds.HierarchicalReferences, true,
                mask, uint(BrowseResultMask.All.getValue()))).toList();
        List<BrowseResult> results = asking.asked(client.browseAsync(wanted));
        for (int i = 0; i < parents.size(); i++) {
            take(parents.get(i), results.get(i).getReferences(), next);
            ByteString more = results.get(i).getContinuationPoint();
            while (more != null && more.isNotNull()) {
                var answer = asking.asked(client.browseNextAsync(false, List.of(more))).getResults()[0];
                take(parents.get(i), answer.getReferences(), next);
                more = answer.getContinuationPoint();
            }
        }
    }

    private void take(Node parent, ReferenceDescription[] references, List<Node> next) {
        if (references == null) {
            return;
        }
        for (ReferenceDescription r : references) {
            Optional<NodeId> id = r.getNodeId().toNodeId(client.getNamespaceTable());
            if (id.isEmpty() || found.size() >= DeviceLink.MOST_TAGS || !seen.add(id.get())) {
                continue;
            }
            String name = Optional.ofNullable(r.getBrowseName()).map(QualifiedName::name).orElse(id.get().getIdentifier().toString());
            String path = parent.path().isEmpty() ? name : parent.path() + "." + name;
            if (r.getNodeClass() == NodeClass.Variable) {
                found.add(new Found(id.get(), path));
            }
            next.add(new Node(id.get(), path));
        }
    }

    /** Types, rights and descriptions of what was found; variables that no tag can hold are left out. */
    private List<Tag> tags(BooleanSupplier cancelled) {
        List<Tag> tags = new ArrayList<>();
        int step = ATTRIBUTES_AT_ONCE / 3;
        for (int from = 0; from < found.size(); from += step) {
            stopIf(cancelled);
            var some = found.subList(from, Math.min(found.size(), from + step));
            List<ReadValueId> wanted = new ArrayList<>();
            some.forEach(f -> List.of(AttributeId.DataType, AttributeId.UserAccessLevel, AttributeId.Description)
                    .forEach(a -> wanted.add(new ReadValueId(f.id(), a.uid(), null, QualifiedName.NULL_VALUE))));
            DataValue[] values = asking.asked(client.readAsync(0, TimestampsToReturn.Neither, wanted)).getResults();
            for (int i = 0; i < some.size(); i++) {
                tag(some.get(i), values[3 * i], values[3 * i + 1], values[3 * i + 2]).ifPresent(tags::add);
            }
        }
        return tags;
    }

    private static Optional<Tag> tag(Found f, DataValue dataType, DataValue level, DataValue description) {
        if (dataType.value() == null || !(dataType.value().value() instanceof NodeId id)) {
            return Optional.empty();
        }
        Optional<TagType> type = OpcUaValues.type(id);
        boolean writable = level.value() != null && level.value().value() instanceof Number n && (n.intValue() & 2) != 0;
        String comment = description.value() != null && description.value().value() instanceof LocalizedText t && t.text() != null
                ? t.text() : "";
        return type.map(t -> new Tag(f.path(), f.id().toParseableString(), t, writable, comment));
    }
}
