/**
 * Many runs on several machines: workers ({@link boldanvil.core.farm.Worker}) wait for runs, a study has them done
 * ({@link boldanvil.core.farm.Farm}). Apache Ignite finds the workers, watches over them and carries the messages, over TLS that only
 * holders of one key file can speak ({@link boldanvil.core.farm.FarmKey}). What is run at each point is said in
 * {@link boldanvil.core.farm.Work}; which runs are still to be done, only the study knows, so none is lost or counted twice.
 */
package boldanvil.core.farm;
