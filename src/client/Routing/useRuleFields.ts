import { isLeaf, type Field } from "../Conditions/conditions";
import { useRegions } from "../Conditions/useRegions";
import { cellOf, type Rule } from "./sheet";

/** The fields as a rule can ask them: a region is chosen among those of the countries it takes. */
export function useRuleFields(fields: Field[], rule: Rule): Field[] {
  const country = cellOf(rule, "country");
  const countries = country && isLeaf(country) && !("not" in country) && country.is === "in" ? country.values : [];
  const regions = useRegions(countries).data;
  return regions ? fields.map((f) => (f.type === "region" ? { ...f, choices: regions.map((r) => ({ ...r, retired: false })) } : f)) : fields;
}
