package boldanvil.standin.plc;

import boldanvil.core.finding.FindingException;
import boldanvil.core.link.TagType;
import boldanvil.core.link.opcua.OpcUaValues;
import boldanvil.core.plc.PlcRuntime;
import boldanvil.core.tags.TagSources;
import boldanvil.core.text.PlcProgram.Variable;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.eclipse.milo.opcua.sdk.core.AccessLevel;
import org.eclipse.milo.opcua.sdk.core.Reference;
import org.eclipse.milo.opcua.sdk.server.ManagedNamespaceWithLifecycle;
import org.eclipse.milo.opcua.sdk.server.OpcUaServer;
import org.eclipse.milo.opcua.sdk.server.Session;
import org.eclipse.milo.opcua.sdk.server.identity.Identity;
import org.eclipse.milo.opcua.sdk.server.items.DataItem;
import org.eclipse.milo.opcua.sdk.server.items.MonitoredItem;
import org.eclipse.milo.opcua.sdk.server.nodes.UaFolderNode;
import org.eclipse.milo.opcua.sdk.server.nodes.UaNode;
import org.eclipse.milo.opcua.sdk.server.nodes.UaVariableNode;
import org.eclipse.milo.opcua.sdk.server.util.SubscriptionModel;
import org.eclipse.milo.opcua.stack.core.AttributeId;
import org.eclipse.milo.opcua.stack.core.NodeIds;
import org.eclipse.milo.opcua.stack.core.StatusCodes;
import org.eclipse.milo.opcua.stack.core.types.builtin.DataValue;
import org.eclipse.milo.opcua.stack.core.types.builtin.DateTime;
import org.eclipse.milo.opcua.stack.core.types.builtin.LocalizedText;
import org.eclipse.milo.opcua.stack.core.types.builtin.NodeId;
import org.eclipse.milo.opcua.stack.core.types.builtin.StatusCode;
import org.eclipse.milo.opcua.stack.core.types.builtin.Variant;
import org.eclipse.milo.opcua.stack.core.types.enumerated.TimestampsToReturn;
import org.eclipse.milo.opcua.stack.core.types.structured.ReadValueId;
import org.eclipse.milo.opcua.stack.core.types.structured.WriteValue;

/**
 * The variables of the PLC's program as nodes: {@code ns=2;s=} and the path of the variable. Values are read and written in the memory of
 * the program, many at once and all at the same instant; the nodes themselves only say what there is.
 */
final class PlcNamespace extends ManagedNamespaceWithLifecycle {
    private static final String URI = "urn:boldanvil:tongs-plc-24:program";
    private static final String DEVICE = "device";

    private final PlcDevice device;
    private final SubscriptionModel subscriptions;
    private final List<UaNode> built = new ArrayList<>();
    private volatile Map<NodeId, Variable> variables = Map.of();

    PlcNamespace(OpcUaServer server, PlcDevice device) {
        super(server, URI);
        this.device = device;
        subscriptions = new SubscriptionModel(server, this);
        getLifecycleManager().addLifecycle(subscriptions);
    }

    /** Makes the nodes of the present program. */
    synchronized void rebuild() {
        built.forEach(n -> getNodeManager().removeNode(n));
        built.clear();
        Map<String, UaFolderNode> folders = new HashMap<>();
        Map<NodeId, Variable> next = new HashMap<>();
        for (Variable v : device.shown()) {
            NodeId id = newNodeId(v.path());
            TagType type = TagSources.type(v);
            int dot = v.path().lastIndexOf('.');
            var node = new UaVariableNode.UaVariableNodeBuilder(getNodeContext()).setNodeId(id)
                    .setBrowseName(newQualifiedName(v.path().substring(dot + 1)))
                    .setDisplayName(LocalizedText.english(v.path().substring(dot + 1)))
                    .setDescription(LocalizedText.english(v.address())).setDataType(OpcUaValues.dataType(type))
                    .setTypeDefinition(NodeIds.BaseDataVariableType).setAccessLevel(AccessLevel.READ_WRITE)
                    .setUserAccessLevel(AccessLevel.READ_WRITE).build();
            add(node, dot < 0 ? "" : v.path().substring(0, dot), folders);
            next.put(id, v);
        }
        for (String name : List.of("mode", "reason")) {
            add(new UaVariableNode.UaVariableNodeBuilder(getNodeContext()).setNodeId(newNodeId(DEVICE + "." + name))
                    .setBrowseName(newQualifiedName(name)).setDisplayName(LocalizedText.english(name)).setDataType(NodeIds.String)
                    .setTypeDefinition(NodeIds.BaseDataVariableType).setAccessLevel(AccessLevel.READ_ONLY)
                    .setUserAccessLevel(AccessLevel.READ_ONLY).build(), DEVICE, folders);
        }
        variables = next;
    }

    private void add(UaNode node, String folder, Map<String, UaFolderNode> folders) {
        getNodeManager().addNode(node);
        built.add(node);
        attach(node, folder, folders);
    }

    private void attach(UaNode node, String folder, Map<String, UaFolderNode> folders) {
        if (folder.isEmpty()) {
            node.addReference(new Reference(node.getNodeId(), NodeIds.Organizes, NodeIds.ObjectsFolder.expanded(), false));
        } else {
            folder(folder, folders).addOrganizes(node);
        }
    }

    private UaFolderNode folder(String path, Map<String, UaFolderNode> folders) {
        UaFolderNode f = folders.get(path);
        if (f == null) {
            int dot = path.lastIndexOf('.');
            String name = path.substring(dot + 1);
            f = new UaFolderNode(getNodeContext(), newNodeId(path + "."), newQualifiedName(name), LocalizedText.english(name));
            getNodeManager().addNode(f);
            built.add(f);
            folders.put(path, f);
            attach(f, dot < 0 ? "" : path.substring(0, dot), folders);
        }
        return f;
    }

    @Override
    public List<DataValue> read(ReadContext context, Double maxAge, TimestampsToReturn timestamps, List<ReadValueId> wanted) {
        DataValue[] answers = new DataValue[wanted.size()];
        var known = variables;
        List<Integer> mine = new ArrayList<>();
        List<Variable> asked = new ArrayList<>();
        List<Integer> others = new ArrayList<>();
        for (int i = 0; i < answers.length; i++) {
            var r = wanted.get(i);
            Variable v = AttributeId.Value.isEqual(r.getAttributeId()) ? known.get(r.getNodeId()) : null;
            if (v != null) {
                mine.add(i);
                asked.add(v);
            } else {
                others.add(i);
            }
        }
        if (!mine.isEmpty()) {
            values(asked, mine, answers);
        }
        if (!others.isEmpty()) {
            var rest = super.read(context, maxAge, timestamps, others.stream().map(wanted::get).toList());
            for (int k = 0; k < others.size(); k++) {
                var r = wanted.get(others.get(k));
                answers[others.get(k)] = ofDevice(r, rest.get(k));
            }
        }
        return List.of(answers);
    }

    private void values(List<Variable> asked, List<Integer> places, DataValue[] answers) {
        var runtime = device.runtime();
        List<Object> values;
        PlcRuntime.Mode mode;
        try {
            values = runtime.read(asked);
            mode = runtime.mode();
        } catch (RuntimeException e) {
            // The program was exchanged between the two.
            places.forEach(i -> answers[i] = new DataValue(StatusCodes.Bad_NodeIdUnknown));
            return;
        }
        var now = new DateTime(Instant.now());
        var status = new StatusCode(mode == PlcRuntime.Mode.RUN ? StatusCodes.Good : StatusCodes.Uncertain_LastUsableValue);
        for (int k = 0; k < places.size(); k++) {
            Variable v = asked.get(k);
            Object value = device.fault() == PlcFault.WRONG_TYPE ? values.get(k).toString()
                    : OpcUaValues.encode(TagSources.type(v), values.get(k));
            answers[places.get(k)] = new DataValue(Variant.of(value), status, now, now);
        }
    }

    private DataValue ofDevice(ReadValueId r, DataValue usual) {
        if (!AttributeId.Value.isEqual(r.getAttributeId())) {
            return usual;
        }
        if (r.getNodeId().equals(newNodeId(DEVICE + ".mode"))) {
            return new DataValue(Variant.of(device.runtime().mode().name()));
        }
        return r.getNodeId().equals(newNodeId(DEVICE + ".reason")) ? new DataValue(Variant.of(device.runtime().reason())) : usual;
    }

    @Override
    public List<StatusCode> write(WriteContext context, List<WriteValue> writes) {
        boolean allowed = device.settings().anonymousWrites() || context.getSession().map(PlcNamespace::isUser).orElse(true);
        List<StatusCode> answers = new ArrayList<>();
        for (WriteValue w : writes) {
            answers.add(new StatusCode(write(w, allowed)));
        }
        return answers;
    }

    private static boolean isUser(Session s) {
        return s.getIdentity() instanceof Identity.UsernameIdentity;
    }

    private long write(WriteValue w, boolean allowed) {
        Variable v = variables.get(w.getNodeId());
        if (v == null) {
            return getNodeManager().containsNode(w.getNodeId()) ? StatusCodes.Bad_NotWritable : StatusCodes.Bad_NodeIdUnknown;
        }
        if (!AttributeId.Value.isEqual(w.getAttributeId()) || w.getIndexRange() != null && !w.getIndexRange().isEmpty()) {
            return StatusCodes.Bad_NotWritable;
        }
        if (!allowed) {
            return StatusCodes.Bad_UserAccessDenied;
        }
        Object given = w.getValue().value() == null ? null : w.getValue().value().value();
        TagType type = TagSources.type(v);
        Object value = OpcUaValues.decode(type, given);
        if (value == null || !OpcUaValues.encode(type, value).getClass().equals(given.getClass())) {
            return StatusCodes.Bad_TypeMismatch;
        }
        try {
            device.runtime().write(v.path(), value);
            return StatusCodes.Good;
        } catch (FindingException e) {
            return StatusCodes.Bad_OutOfRange;
        }
    }

    @Override
    public void onDataItemsCreated(List<DataItem> items) {
        subscriptions.onDataItemsCreated(items);
    }

    @Override
    public void onDataItemsModified(List<DataItem> items) {
        subscriptions.onDataItemsModified(items);
    }

    @Override
    public void onDataItemsDeleted(List<DataItem> items) {
        subscriptions.onDataItemsDeleted(items);
    }

    @Override
    public void onMonitoringModeChanged(List<MonitoredItem> items) {
        subscriptions.onMonitoringModeChanged(items);
    }
}
