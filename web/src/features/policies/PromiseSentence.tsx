import { ChoiceValue, DurationValue, useEditing } from "./editing";

/** What the policy promises; what it does not is said to be no promise. */
export function PromiseSentence() {
  const { reach, restoreTime, drillEvery } = useEditing().document.objective ?? {};
  return (
    <section aria-label="Promise">
      <h2 className="text-section">Promise</h2>
      <p className="sentence">
        Lose at most <DurationValue path="objective.mishap" label="Loss to a mishap" none="no limit" /> to a
        mishap, <DurationValue path="objective.siteLoss" label="Loss with the site" none="no limit" /> with
        the site, <DurationValue path="objective.sabotage" label="Loss to sabotage" none="no limit" /> to
        sabotage. {reach ? "Keep every moment restorable for" : "Reach:"}{" "}
        <DurationValue path="objective.reach" label="Reach" />.{" "}
        {restoreTime ? "Be running again within" : "Time of a restore:"}{" "}
        <DurationValue path="objective.restoreTime" label="Restore time" none="no limit" />.{" "}
        {drillEvery ? "Prove that restores work every" : "Drills:"}{" "}
        <DurationValue path="objective.drillEvery" label="Drill interval" />. The policy is{" "}
        <ChoiceValue
          path="enabled"
          label="The policy is"
          otherwise="true"
          choices={[
            ["true", "switched on"],
            ["false", "switched off"],
          ]}
        />
        .
      </p>
    </section>
  );
}
