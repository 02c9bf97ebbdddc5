// Reads, writes and subscribes with a client of another maker; prints what it saw as JSON.
const { OPCUAClient, AttributeIds, DataType, ClientSubscription, ClientMonitoredItem, TimestampsToReturn, UserTokenType,
    MessageSecurityMode, SecurityPolicy } = require("node-opcua-client");

async function main() {
    const [endpoint, user, password] = process.argv.slice(2);
    const client = OPCUAClient.create({ endpointMustExist: false, securityMode: MessageSecurityMode.None,
        securityPolicy: SecurityPolicy.None, connectionStrategy: { maxRetry: 1 } });
    await client.connect(endpoint);
    const session = await client.createSession({ type: UserTokenType.UserName, userName: user, password: password });
    const seen = {};
    const root = await session.browse("ns=0;i=85");
    seen.browsed = root.references.map(r => r.browseName.name);
    seen.level = (await session.read({ nodeId: "ns=2;s=level", attributeId: AttributeIds.Value })).value.value;
    seen.written = (await session.write({ nodeId: "ns=2;s=count", attributeId: AttributeIds.Value,
        value: { value: { dataType: DataType.Int16, value: 77 } } })).name;
    seen.count = (await session.read({ nodeId: "ns=2;s=count", attributeId: AttributeIds.Value })).value.value;
    seen.wrongType = (await session.write({ nodeId: "ns=2;s=count", attributeId: AttributeIds.Value,
        value: { value: { dataType: DataType.String, value: "x" } } })).name;
    const subscription = ClientSubscription.create(session, { requestedPublishingInterval: 50, requestedLifetimeCount: 100,
        requestedMaxKeepAliveCount: 10, publishingEnabled: true });
    const values = [];
    await new Promise((resolve, reject) => {
        const item = ClientMonitoredItem.create(subscription, { nodeId: "ns=2;s=seq.n", attributeId: AttributeIds.Value },
            { samplingInterval: 20, queueSize: 10 }, TimestampsToReturn.Both);
        item.on("changed", v => { values.push(v.value.value); if (values.length >= 5) { resolve(); } });
        setTimeout(() => reject(new Error("no changes")), 8000);
    });
    seen.rising = values.every((v, i) => i === 0 || v > values[i - 1]);
    await session.close();
    await client.disconnect();
    console.log("RESULT " + JSON.stringify(seen));
    process.exit(0);
}

main().catch(e => { console.log("FAILED " + e.message); process.exit(1); });
