"""``make mutants``: each of these changes must be seen by the test beside it.

Every mutant is put into a copy of the tree and the test run there; a test that passes has
let it live. Add one whenever a fault was found that no test had seen.
"""

import os
import shutil
import subprocess
import sys
import tempfile
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
SAYS, FAULTS, SOUND = "tests.core.test_order_says.WhatIsSaid.", "tests.web.test_faults.", "tests.core.test_sound."
FLOOR, BUILT = "tests.core.test_floor.", "tests.core.test_transitions."
PLANES = "Folded.test_every_panel_lies_in_the_plane_of_its_corners_and_every_flange_in_its_end"
SITE, SUPPLIED = "tests.core.test_site.", "tests.core.test_suppliers."
RIBS, CUT, FLUTED = "tests.core.test_ribs.", "tests.core.test_cutting.", "Formed.test_flutes_take_up_what_is_too_long"
SHEETS, WHY, STACK = "tests.core.test_any_sheet.", "tests.core.test_why.", "tests.core.test_stackup.StackUpTests."


LONG, TOGETHER, TAKEN = "tests.web.test_longwork.", "tests.web.test_together.", "tests.web.test_keeping.KeptOnDevices."
DEEDS = "tests.web.test_deeds.Record."
NESTS = CUT + "NestsReadBack.test_every_contour_of_every_piece_is_on_the_sheet"
OPENINGS = "Plans.test_small_pieces_lie_in_the_openings_of_large_ones"
ASKED = "Causes.test_readings_in_other_units_of_other_legs_and_the_other_way_are_asked_about"
WAYS, HOLED = "tests.core.test_ways_out.WaysOut.test_", "tests.core.test_strip_holes.StripHoles.test_"


@dataclass(frozen=True)
class Mutant:
    """``old`` stands once in the ``file``; ``new`` in its place must make the ``test`` fail."""

    file: str
    old: str
    new: str
    test: str


IN_SECTION, MANY = "tests.core.test_section.Alike.test_a_section_says_what_face_by_face_says", "tests.core.test_many.Many.test_"
AT_ITS_LIMITS = "tests.core.test_section.Alike.test_where_little_lies_flat_and_where_much_reaches_far"
FIRST_ORDER = MANY + "a_strip_of_26_bends_gets_an_order_that_can_be_made"

MADE, TAKEN_SIZES = "tests.core.test_measured.Sections.test_", "tests.core.test_measured.Sizes.test_"
BY_HAND = MADE + "six_brakes_come_out_as_they_were_drawn_by_hand_in_either_unit"
GIVE_WAY = TAKEN_SIZES + "start_values_give_way_to_what_was_measured_and_say_that_they_are_none"
OF_TOOLS = "tests.core.test_measured.Tools.test_"

DOUBTS = "tests.web.test_measured.Measured.test_a_part_that_is_known_says_which_size_is_wrong"

PINS, BUNDLE, OWN_SHOP = "tests.web.test_pins.Pins.test_", "tests.web.test_bundle.", "tests.web.test_shop.Settings.test_"
REFUSED_WHOLE = BUNDLE + "Hostile.test_every_one_is_refused_whole_with_its_place"
HANDED_ON = BUNDLE + "HandedOn.test_a_ticket_goes_to_a_shop_with_other_people_numbers_and_brakes_and_back"

MUTANTS = (
    # of what was put right: sizes, verdicts, plans and ways out
    Mutant("bendcore/schools/school.py", "+ math.radians(a) * more * t,", "+ 0 * more,",
           "tests.web.test_floor.Checks.test_what_is_learnt_is_added_to_each_bends_own_k"),
    Mutant("dorvan/tickets/file/joined.py", 'setdefault("springback", START)', 'setdefault("springback", 1.0)',
           "tests.web.test_ways_that_end.WaysThatEnd.test_springback_begins_with_the_metal_and_a_stated_nothing_stays"),
    Mutant("bendcore/floor/causes.py", "over > 0 and _ends_bare(leg, part)", "over > 0",
           FLOOR + "Causes.test_what_can_be_saved"),
    Mutant("bendcore/floor/causes.py", "if part.stock.is_coated else", "if False else",
           FLOOR + "Causes.test_what_can_be_saved"),
    Mutant("dorvan/ledger/schools.py", "    if adoption.n < enough:", "    if False:",
           "tests.web.test_jobs.Jobs.test_a_proof_bend_to_an_adopted_k_that_is_used"),
    Mutant("dorvan/tickets/models/revision.py", '"open": sum(piece not in sheets for piece in pieces)', '"open": 0',
           "tests.web.test_rack.Rack.test_by_state_and_why_it_is_held"),
    Mutant("dorvan/tickets/models/ticket.py", 'return notes.get(self.place, "") if self.can_undo', 'return "" if self.can_undo',
           "tests.web.test_tickets.Changes.test_a_leg_is_set_undone_and_redone"),
    Mutant("bendcore/day/work.py", "if merged and start <= merged[-1][1]:", "if False:",
           "tests.core.test_day.Told.test_absences_of_one_person_that_overlap_leave_a_plan"),
    Mutant("bendcore/checks/rules.py", "            if made > tab.ease + OPEN:", "            if False:",
           "tests.web.test_ways_that_end.WaysThatEnd.test_a_tab_eased_more_than_asked_is_told"),
    Mutant("dorvan/tickets/templatetags/shop.py", '"kg": ("lb", 0.45359237)', '"kg": ("kg", 1.0)',
           "tests.web.test_units.Units.test_a_mass_is_told_in_pounds_or_kilograms"),
    Mutant("dorvan/bookmarks.py", "return redirect(page_above(request.path))", "return response",
           "tests.web.test_ways_that_end.WaysThatEnd.test_an_address_that_only_takes_posts_leads_back"),
    Mutant("dorvan/people/pins.py", "is_active=True, pin_wrong__lt=MOST_WRONG)", "is_active=True)",
           PINS + "five_wrong_ones_put_it_to_rest_until_the_phrase_is_given"),
    Mutant("dorvan/people/pins.py", "    wake(person)\n    return True", "    return True",
           PINS + "five_wrong_ones_put_it_to_rest_until_the_phrase_is_given"),
    Mutant("dorvan/people/pins.py", "for n in (1, 2, 3))", "for n in (1, 2))",
           PINS + "what_others_would_try_first_is_refused_and_whoever_is_stopped_is_out"),
    Mutant("dorvan/people/pins.py", '"people:change", ', "", PINS + "a_pin_opens_the_work_and_not_who_works_here"),
    Mutant("dorvan/people/tablets.py", "secret=_hash(secret), withdrawn=None)", "secret=_hash(secret))",
           PINS + "elsewhere_a_pin_opens_nothing"),
    Mutant("dorvan/people/tablets.py", "Device.objects.filter(secret=_hash(secret)", "Device.objects.filter(secret=secret",
           PINS + "elsewhere_a_pin_opens_nothing"),
    Mutant("dorvan/people/phrases.py", 'timezone.now() + LASTS, ""', "timezone.now() + LASTS, person.pin",
           PINS + "what_others_would_try_first_is_refused_and_whoever_is_stopped_is_out"),
    Mutant("bendcore/tolerance.py", '"f": (0.05, 0.05, 0.1, 0.15, 0.2,', '"f": (0.05, 0.05, 0.1, 0.15, 0.3,',
           OWN_SHOP + "a_new_ticket_has_the_shops_tolerances_and_keeps_them"),
    Mutant("dorvan/tickets/pages/begin.py", "Shop.now().general_tolerance", '"m"',
           OWN_SHOP + "a_new_ticket_has_the_shops_tolerances_and_keeps_them"),
    Mutant("dorvan/shop/clock.py", "timezone.override(Shop.now().clock)", "timezone.override(None)",
           OWN_SHOP + "pages_tell_the_time_of_the_shops_clock"),
    Mutant("dorvan/bundle/opening.py", "if to is not None and to not in there:", "if False:", REFUSED_WHOLE),
    Mutant("dorvan/bundle/opening.py", 'or ".." in info.filename.split("/")', "", REFUSED_WHOLE),
    Mutant("dorvan/bundle/opening.py", "    _sound(made)\n", "", REFUSED_WHOLE),
    Mutant("dorvan/bundle/opening.py", "        field.run_validators(found)\n", "", REFUSED_WHOLE),
    Mutant("dorvan/bundle/reading_in.py", '{"is_active": False, "username"', '{"username"', HANDED_ON),
    Mutant("dorvan/bundle/reading_in.py", "                other[\"part\"] = with_metal(row.values[\"part\"], row.metal)",
           "                pass", HANDED_ON),
    Mutant("dorvan/bundle/reading_in.py", "made.save_base(raw=True, force_insert=True)", "made.save(force_insert=True)",
           BUNDLE + "Whole.test_the_demo_shop_moves_into_an_empty_one_whole"),
    Mutant("dorvan/tickets/models/ticket.py", "reversed(self.revisions.all()) if not one.elsewhere)",
           "reversed(self.revisions.all()))", HANDED_ON),
    Mutant("dorvan/bundle/reading_in.py", "next(namesakes, None) if self.whole else self._ours(PEOPLE, row)",
           "next(namesakes, None)", HANDED_ON),
    Mutant("dorvan/bundle/packing.py", 'data["origin"] = [str(origin.shop), origin.theirs]', "pass", HANDED_ON),
    Mutant("bendcore/quality/certainty.py", "by_thickness = 2 - SQUARE", "by_thickness = 2 + SQUARE",
           "tests.web.test_first_hour.Certainty.test_it_is_what_a_little_more_of_each_does_to_a_blank"),
    Mutant("bendcore/brakes/measured/tools.py", "math.atan(s[\"v\"] / 2 / s[\"depth\"])", "math.atan(s[\"v\"] / s[\"depth\"])",
           MADE + "a_vice_is_bars_with_jaws_and_a_channel_bends_as_sharp_as_it_is_deep"),
    Mutant("bendcore/brakes/measured/compared.py", "dy, dz = min(ways", "dy, dz = max(ways",
           MADE + "a_drawing_laid_over_a_tool_is_where_it_belongs_and_told_by_its_worst_corner"),
    Mutant("bendcore/order/doubts.py", "patience) == one.fitted for one", "patience) != one.fitted for one", DOUBTS),
    Mutant("bendcore/order/doubts.py", "if fits(one.part, brake, patience) != one.fitted]", "if one.fitted]", DOUBTS),
    Mutant("bendcore/order/doubts.py", "key=lambda value, now=row.value: abs(value - now)", "key=lambda value: -value", DOUBTS),
    Mutant("bendcore/order/doubts.py", "for way in (1.0, -1.0):", "for way in (-1.0,):", DOUBTS),
    Mutant("bendcore/brakes/measured/folder.py", "max(0.0, z - LIP)", "max(0.0, z)", BY_HAND),
    Mutant("bendcore/brakes/measured/folder.py", "(depth, -height), (under, -height)", "(depth, -height)", BY_HAND),
    Mutant("bendcore/brakes/measured/bars.py", '* (height - land)\n    return [', '* height\n    return [', BY_HAND),
    Mutant("bendcore/brakes/measured/press.py", '(s["ram_back"], s["ram_wide_at"]),\n        (s["ram_back"], top)',
           '(s["ram_front"], s["ram_wide_at"]),\n        (s["ram_back"], top)', BY_HAND),
    Mutant("bendcore/brakes/measured/tools.py", "radius * (math.cos(a) - 1)) for a", "radius * (1 - math.cos(a))) for a",
           MADE + "dies_of_the_rack_come_out_of_caliper_and_protractor"),
    Mutant("bendcore/brakes/measured/tools.py", '(deep - s["neck"], s["throat_at"])', '(deep + s["neck"], s["throat_at"])',
           MADE + "a_neck_stands_where_the_caliper_found_it"),
    Mutant("bendcore/brakes/measured/described.py", "        sizes = min(tried", "        break\n        sizes = min(tried",
           GIVE_WAY),
    Mutant("bendcore/brakes/measured/described.py", "if name not in own:", "if True:", GIVE_WAY),
    Mutant("bendcore/brakes/measured/described.py", "        sizes.pop(name, None)\n", "        pass\n",
           TAKEN_SIZES + "what_is_not_measured_says_so_until_it_is"),
    Mutant("bendcore/brakes/measured/described.py", "if key not in OWNED and key not in drawn}", "if key not in OWNED}",
           TAKEN_SIZES + "a_drawn_section_stands_until_it_is_to_be_made_again"),
    Mutant("bendcore/brakes/measured/described.py", "is Unit.LENGTH else value\n                for name", "is Unit.LENGTH or 1 else value\n                for name",
           OF_TOOLS + "a_lent_tool_is_the_same_on_a_brake_in_inches"),
    Mutant("bendcore/brakes/measured/described.py", "units if one.unit is Unit.BEND else str(units)", "units",
           TAKEN_SIZES + "a_leafs_swing_is_read_as_its_reader_measures_angles_and_a_nose_is_not"),
    Mutant("bendcore/brakes/press.py", 'if not block.get("retired")]', "]",
           OF_TOOLS + "put_up_copied_renamed_put_away_and_taken_off"),
    Mutant("bendcore/units.py", '"ton": 8.896443, "tons": 8.896443', '"ton": 9.80665, "tons": 9.80665',
           TAKEN_SIZES + "forces_as_plates_say_them"),
    Mutant("bendcore/order/arms.py", "np.conj(shift) + down - np.conj(turn) * down", "np.conj(shift) + down", IN_SECTION),
    Mutant("bendcore/order/arms.py", "found[1:len(self.levels)] = self.before.far", "found[1:len(self.levels)] = self.far",
           AT_ITS_LIMITS),
    Mutant("bendcore/order/arms.py", "        found[0] = link.far\n", "", AT_ITS_LIMITS),
    Mutant("bendcore/order/arms.py", "turn * link.turn[n], turn * link.shift[n] + shift",
           "turn * link.turn[n], link.shift[n] + shift", FIRST_ORDER),
    Mutant("bendcore/order/section.py", "np.isin(kinds, some)", "np.isin(kinds, some[:1])", IN_SECTION),
    Mutant("bendcore/order/section.py", "return side if side in self.sides else self.sides[0]", "return self.sides[0]",
           IN_SECTION),
    Mutant("bendcore/order/section.py", "            if known:\n                return True\n", "", FIRST_ORDER),
    Mutant("bendcore/order/proof_section.py", "if meeting.reach != FRAME or self._is_beyond_frames", "if meeting.reach != FRAME",
           AT_ITS_LIMITS),
    Mutant("bendcore/order/proof_section.py", "        return none\n", "        return True\n", AT_ITS_LIMITS),
    Mutant("bendcore/order/proof_section.py", "found[-1][1:len(link.levels)] = places", "found[-1][1:] = places[0]", AT_ITS_LIMITS),
    Mutant("bendcore/order/proof_section.py", "found &= link.deepest + self.on.brake.nose_radius <= self.on.deepest + 1e-6",
           "found &= True", AT_ITS_LIMITS),
    Mutant("bendcore/order/horizon.py", "np.minimum(anywhere + self.job.brakes[then.on].costs.stop_move, after[:, :1])",
           "anywhere + self.job.brakes[then.on].costs.stop_move",
           WHY + "Why.test_a_stop_not_yet_set_and_a_line_cost_no_move_of_the_stop"),
    Mutant("bendcore/order/horizon.py", "        same[:, :1] = anywhere  # where it stood is open\n", "",
           WHY + "Why.test_a_stop_not_yet_set_and_a_line_cost_no_move_of_the_stop"),
    Mutant("bendcore/order/backwards.py", "    return not prover.job.count or any(", "    return True or any(",
           MANY + "where_no_bend_can_be_last_that_is_the_reason"),
    Mutant("bendcore/order/many.py", "    return better if better and better.cost < best.cost - 1e-6 else None", "    return None",
           MANY + "letting_a_few_strokes_go_makes_the_dearest_order_the_cheapest"),
    Mutant("bendcore/cutting/pieces.py", "point[0] * s + point[1] * c - low + y", "point[1] * c - point[0] * s - low + y", NESTS),
    Mutant("bendcore/cutting/openings.py", "room.difference(Polygon(best.ring).buffer(kerf))", "room", CUT + OPENINGS),
    Mutant("bendcore/cutting/openings.py", "TURNS[::2] if guest.tied == host.tied else TURNS[1::2]", "TURNS", CUT + OPENINGS),
    Mutant("bendcore/cutting/openings.py", "room.buffer(-kerf)", "room", CUT + OPENINGS),
    Mutant("bendcore/cutting/wish.py", "len(left_out), round", "0, round",
           CUT + "Plans.test_most_blanks_come_first_whatever_their_size"),
    Mutant("bendcore/cutting/wish.py", "LEFTOVERS: lambda whole, opened, cuts, area: (opened, whole,",
           "LEFTOVERS: lambda whole, opened, cuts, area: (whole, opened,", CUT + "Plans.test_what_the_shop_wishes_is_saved"),
    Mutant("bendcore/cutting/exact.py", "max(one.wide, other.wide)", "min(one.wide, other.wide)",
           CUT + "Plans.test_few_pieces_are_tried_every_way"),
    Mutant("bendcore/floor/diagnosis.py", "off = {place: value - float(pattern[self.places.index(place)]) * size",
           "off = {place: value", FLOOR + "Causes.test_a_blank_measured_long_is_taken_out_before_k_is_asked"),
    Mutant("bendcore/floor/corrections.py", "in ties.dimensions and name not in doubted]", "in ties.dimensions]",
           FLOOR + "Causes.test_nothing_is_set_by_a_reading_that_nothing_explains_until_it_is_taken_again"),
    Mutant("bendcore/floor/slips.py", "(HALF_TURN - measured,", "(HALF_TURN + measured,", FLOOR + ASKED),
    Mutant("bendcore/floor/slips.py", "(measured * MM_PER[\"in\"], \"inches\")", "(measured * 24, \"inches\")", FLOOR + ASKED),
    Mutant("bendcore/order/trying.py", "if can_be_bent(Prover(job), patience):\n        return True\n    if patience():",
           "if can_be_bent(Prover(job), patience):\n        return True\n    if False:", WAYS + "what_nobody_had_the_time_to_see_is_no_no"),
    Mutant("bendcore/order/trying.py", "        low = size\n", "        low = least\n", WAYS + "a_range_says_no_more_than_was_tried"),
    Mutant("bendcore/day/work.py", "max(end, merged[-1][1])", "end",
           "tests.core.test_day.Told.test_absences_of_one_person_that_overlap_leave_a_plan"),
    Mutant("bendcore/day/times.py", "max(0, pieces - cut)", "pieces",
           "tests.core.test_day.Told.test_hand_work_counts_cutting_marking_and_setting_up"),
    Mutant("bendcore/families/profile/openings.py", "x = leg.flat - (along - leg.setbacks[1])", "x = leg.flat - along",
           HOLED + "where_they_lie"),
    Mutant("bendcore/families/profile/openings.py", "along - leg.setbacks[0]\n", "along\n", HOLED + "where_they_lie"),
    Mutant("bendcore/families/square_to_round/shape.py", "np.array([corner, b, a])", "np.array([corner, a, b])",
           BUILT + "SquareToRound.test_in_pieces_it_is_the_same_form_and_as_much_metal"),
    Mutant("bendcore/schools/school.py", "math.radians(a) * more * t", "math.radians(90) * more * t",
           "tests.web.test_floor.Checks.test_what_is_learnt_is_added_to_each_bends_own_k"),
    Mutant("dorvan/tickets/models/cut.py", "self.decided_for != now", "True",
           "tests.web.test_cutting.Cutting.test_a_ticket_knows_that_its_blanks_are_cut_and_asks_what_happens_to_them"),
    Mutant("bendcore/develop/hammered.py", "edge.sweep * (self.reach - self.edge)", "edge.sweep * self.flat", RIBS + FLUTED),
    Mutant("bendcore/families/rib/formed.py", "x - sunk * math.sin(angle)", "x + sunk * math.sin(angle)", RIBS + FLUTED),
    Mutant("bendcore/families/rib/flutes.py", "taken = [share * edge.length for one, share in places if one is edge]",
           "taken = []", RIBS + "Formed.test_flutes_stand_clear_of_rivets"),
    Mutant("bendcore/site/measured.py", "near = min(combinations(readings, 2), key=apart)", "near = readings[-2:]",
           SITE + "Readings.test_two_that_agree_settle_it_and_a_third_decides"),
    Mutant("bendcore/site/sheet.py", "found.get(n, {n}) for n", "found.get(n, set()) for n",
           SITE + "Graphs.test_a_changed_reading_moves_exactly_what_hangs_on_it"),
    Mutant("bendcore/site/rules.py", "sign * other.one,), typed)", "other.one,), typed)",
           SITE + "Rules.test_they_are_read_as_they_are_said"),
    Mutant("dorvan/site/moving.py", "use.given is None or abs(use.given - value.one) > ALIKE)", "True)",
           "tests.web.test_site.Sheets.test_what_was_changed_by_hand_stands_until_it_is_taken_over_or_the_reading_changes"),
    Mutant("dorvan/tickets/gate.py", "(o.point, o.said) == (name, said)", "o.point == name",
           "tests.web.test_site.Gate.test_an_opening_lasts_as_long_as_the_point_says_the_same"),
    Mutant("bendcore/suppliers/check.py", "leg.outside < stock.shortest_flange", "leg.flat < stock.shortest_flange",
           SUPPLIED + "Limits.test_a_good_part_breaks_none"),
    Mutant("bendcore/suppliers/tabs.py", "at(middle + wide / 2, far + REACH)", "at(middle + wide / 2, far + REACH + 2)",
           SUPPLIED + "Tabs.test_every_bend_has_an_edge_to_bear_on_and_what_is_cut_off_leaves_the_blank"),
    Mutant("bendcore/day/solve.py", "0 if work.sharing(before, task) else 1", "1",
           "tests.core.test_day.Small.test_a_plan_is_as_good_as_the_best_of_all"),
    Mutant("bendcore/day/solve.py", "model.add(late >= tasks[task.id].end - task.due)",
           "model.add(late >= tasks[task.id].start - task.due)",
           "tests.core.test_day.Small.test_a_plan_is_as_good_as_the_best_of_all"),
    Mutant("bendcore/joining/spacing.py", "math.ceil(span / reach - 1e-9) + 1", "math.ceil(span / reach - 1e-9)",
           "tests.core.test_joining.Spacing.test_none_is_further_from_the_next_than_the_pitch_and_one_fewer_would_be"),
    Mutant("dorvan/joining/listing.py", "row.spaced.count * row.each\n        elif", "row.spaced.count\n        elif",
           "tests.web.test_joining.Joins.test_everything_is_counted_for_one_and_for_the_batch"),
    Mutant("bendcore/cutting/guillotine.py", 'region.low.wide) - kerf', "region.low.wide)",
           CUT + "Plans.test_random_lists_are_cut_through_and_need_few_sheets"),
    Mutant("bendcore/cutting/bound.py", "need - room, count + 1", "need - room, count + 2",
           CUT + "Plans.test_the_bound_is_never_above_what_a_plan_needs"),
    Mutant("bendcore/measured.py", "(chord ** 2 / 4 + high ** 2) / 2 / high", "chord ** 2 / 8 / high",
           "tests.core.test_curves_measured.Measured.test_points_of_a_circle_give_its_radius"),
    Mutant("dorvan/stockroom/models.py", "count__gte=-change", "count__gte=-9",
           "tests.web.test_cutting.Cutting.test_the_stockroom_adds_up_after_random_cuts_leftovers_and_takings_back"),
    Mutant("bendcore/develop/facets.py", "(direction == UP) == is_outside else figures.inside_setback",
           "(direction != UP) == is_outside else figures.inside_setback", BUILT + PLANES),
    Mutant("bendcore/develop/chains.py", "normal = d1 / math.cos(b1) + d2 / math.cos(b2)", "normal = d1 + d2",
           "tests.core.test_chains.Chains.test_neighbours_are_cut_along_one_curve_that_lies_on_both"),
    Mutant("bendcore/families/transition/flanges.py", "level + up * sizes.thickness", "level", BUILT + PLANES),
    Mutant("bendcore/families/rolled.py", "else -1  # a cone", "else 1  # a cone",
           "tests.core.test_rolled.Rolled.test_lengths_and_areas_are_those_of_the_form"),
    Mutant("bendcore/develop/rolled.py", "outer / (c - s", "outer / (c + s",
           "tests.core.test_rolled.Rolled.test_rolled_up_again_its_ends_lie_in_their_planes_at_the_sizes_asked_for"),
    Mutant("bendcore/floor/drifting.py", "SURE = 1.96", "SURE = 0.3",
           "tests.core.test_checklist.Drifts.test_what_wanders_is_seen_and_what_scatters_is_not"),
    Mutant("dorvan/floor/run.py", "if piece not in self.sheets]", "]", "tests.web.test_floor.Checks.test_which_pieces_are_due"),
    Mutant("dorvan/floor/history.py", "and not before.holds and took", "and took",
           "tests.web.test_floor.Run.test_the_log_says_all_that_happened_and_how_long_it_took"),
    Mutant("bendcore/order/planning.py", '"top" if bend.sign > 0 else "bottom"', '"bottom" if bend.sign > 0 else "top"',
           SAYS + "test_the_punch_comes_down_on_the_face_that_a_bend_folds_towards"),
    Mutant("bendcore/order/planning.py", "over, round_ = before.lie.face != taken.lie.face",
           "over, round_ = before.lie.face == taken.lie.face",
           SAYS + "test_turning_is_said_exactly_when_face_or_end_change"),
    Mutant("bendcore/order/planning.py", "before.lie.heading != taken.lie.heading\n", "False\n",
           SAYS + "test_turning_is_said_exactly_when_face_or_end_change"),
    Mutant("bendcore/order/planning.py", 'taken.before, move, mount) == "along"', "taken.before, move, mount) is None",
           SAYS + "test_a_part_that_stands_round_the_punch_is_slid_off_its_end"),
    Mutant("bendcore/order/plan.py", '"optimal": self.feasible', '"optimal": True',
           SAYS + "test_only_a_whole_order_is_called_the_best"),
    Mutant("bendcore/order/proof.py", "for start, _ in spans) > on.brake.between_frames", "for start, _ in spans) > 1e9",
           SAYS + "test_a_sheet_wider_than_the_space_between_the_frames_cannot_reach_between_them"),
    Mutant("bendcore/brakes/on_press.py", "factor = HEM_FORCE if stroke.closing else 1.0", "factor = 1.0",
           SAYS + "test_closing_a_hem_takes_four_times_the_force_of_a_bend"),
    Mutant("bendcore/order/moves.py", "part.mass_kg > HEAVY_KG or ", "",
           SAYS + "test_what_is_heavy_or_long_is_turned_by_two"),
    Mutant("bendcore/order/moves.py", " or max(part.flat.size) > LONG_MM", "",
           SAYS + "test_what_is_heavy_or_long_is_turned_by_two"),
    Mutant("bendcore/order/explain.py", "prover.fits(on, bends, to) or brake.mounts_for(stroke)\n", "brake.mounts_for(stroke)[:1]\n",
           SAYS + "test_the_trial_told_is_the_least_bad_of_every_tool"),
    Mutant("bendcore/brakes/on_press.py", "usual = usual_opening(stroke.thickness)",
           "usual = (6 if stroke.thickness < 3 else 8) * stroke.thickness",
           SAYS + "test_the_usual_opening_is_one_rule_for_the_rack_and_for_the_order"),
    Mutant("bendcore/order/remedies.py", "yield LONGER, lambda: longer_legs(tried)", "yield LONGER, list",
           SAYS + "test_a_leg_too_short_for_the_die_has_a_way_out_that_works"),
    Mutant("bendcore/brakes/on_leaf.py", "(id(self), reach, *key)", "(reach, *key)",
           SHEETS + "AsASetterWould.test_a_guard_goes_where_each_bend_is_cheapest"),
    Mutant("bendcore/order/horizon.py", "np.minimum.reduceat(left, first)", "np.maximum.reduceat(left, first)",
           WHY + "Why.test_what_is_left_is_never_told_too_high"),
    Mutant("bendcore/order/horizon.py", "out &= self.stage[j]", "out |= self.stage[j]",
           WHY + "Why.test_what_is_struck_out_is_impossible_wherever_it_is"),
    Mutant("bendcore/order/direct.py", "if self.bend not in move.bends:", "if True:",
           WHY + "Direct.test_a_leg_is_gauged_directly_and_the_price_is_the_least"),
    Mutant("bendcore/order/why.py", "float(other.cost - found.cost)", "float(other.cost)",
           WHY + "Why.test_each_choice_beside_the_best_other_one"),
    Mutant("bendcore/order/handwork.py", "inside_radius=figures.radius_at(angle)", "inside_radius=figures.inside_radius",
           WHY + "ByHand.test_a_bend_half_made_keeps_its_metal"),
    Mutant("bendcore/order/stackup.py", "off - taken / 2, -off - taken / 2", "off - taken, -off", STACK + "test_strips_on_a_press"),
    Mutant("bendcore/order/stackup.py", " - self.moved[bend.id, near]", "", STACK + "test_strips_on_a_press"),
    Mutant("bendcore/order/stackup.py", "near], self.moved[name, far] = off, -off - taken",
           "near], self.moved[name, far] = off - taken / 2, -off - taken / 2", STACK + "test_trays_on_a_finger_brake"),
    Mutant("dorvan/tickets/models/kept.py", "if found.optimal and found.feasible:", "if True:",
           "tests.web.test_orders.Orders.test_a_search_that_is_stopped_gives_what_it_has_and_may_go_on"),
    Mutant("bendcore/order/spans.py", "one - BESIDE, one))", "one + BESIDE, one))", SHEETS + "Along.test_walls_stand_in_gaps"),
    Mutant("bendcore/formats/drawing.py", "(\\d{1,3}(?:\\.\\d+)?) R", "([\\d.]+) R",
           "tests.core.test_order_says.Drawn.test_a_label_that_says_no_number_is_no_label"),
    Mutant("bendcore/floor/corrections.py", "lstsq(moves, -np", "lstsq(moves, np",
           FLOOR + "Corrections.test_what_is_set_next_brings_every_gauged_leg_to_its_nominal"),
    Mutant("bendcore/floor/corrections.py", "self.mean + gain * (value", "self.mean - gain * (value",
           FLOOR + "Corrections.test_a_ledger_moves_what_is_known_as_far_as_it_is_sure"),
    Mutant("bendcore/floor/rows.py", "[False, *(far.get(", "[True, *(far.get(",
           FLOOR + "Causes.test_what_a_longer_blank_adds_lands_in_the_legs_once"),
    Mutant("bendcore/order/finished.py", "return min(sides, key", "return max(sides, key",
           STACK + "test_flanges_of_a_sleeve_on_a_hand_brake"),
    Mutant("dorvan/floor/pages/bend.py", "key=key, angle=angle", "key=None, angle=angle",
           "tests.web.test_floor.Run.test_what_is_sent_twice_is_kept_once"),
    Mutant("dorvan/learning/finished.py", " + leg.outside - leg.size", "",
           FAULTS + "Released.test_a_finished_piece_measured_inside_counts_by_its_outside"),
    Mutant("dorvan/tickets/meanwhile.py", "standing(self.base.part) != standing(ticket.part)", "False",
           FAULTS + "Kept.test_a_guards_corner_that_another_added_is_seen_before_ones_own_change"),
    Mutant("dorvan/tickets/models/revision.py", "and {\"important\": []} | self.choices == asked_of(ticket)", "",
           FAULTS + "Released.test_another_order_tool_or_brake_makes_a_released_ticket_open_again"),
    Mutant("dorvan/tickets/models/ticket.py", "        if not same.update(version=self.version + 1, **values):\n            raise Moved",
           "        same.update(version=self.version + 1, **values)", FAULTS + "Kept.test_two_changes_at_once_are_both_kept"),
    Mutant("bendcore/edits.py", "    if at >= len(items):", "    if False:",
           FAULTS + "Asked.test_every_action_on_a_part_that_has_nothing_yet"),
    Mutant("bendcore/edits.py", "    _follow(part, where, _family(part).goes, _places(path))", "    pass",
           "tests.core.test_fields.Edited.test_what_comes_goes_again_and_the_part_is_as_it_was"),
    Mutant("bendcore/fields/kinds.py", " - set(come), come", ", come",
           "tests.core.test_fields.Edited.test_an_option_brings_what_belongs_to_it_and_takes_it_along"),
    Mutant("bendcore/fields/kinds.py", "if self.over is not None and mm <= self.over:", "if False:",
           "tests.core.test_fields.Edited.test_a_length_beyond_its_limits_is_refused_at_its_field"),
    Mutant("dorvan/fields.py", "int(text) if _WHOLE.fullmatch(text) else otherwise", "int(text) if text.isdigit() else otherwise",
           FAULTS + "Asked.test_actions_of_another_family_and_places_that_are_none_are_refused"),
    Mutant("bendcore/families/room.py", "if free.contains(middle) and", "if True or",
           FAULTS + "Asked.test_what_is_added_stands_clear_of_what_is_there"),
    Mutant("bendcore/families/plate/flanges.py", "first + way * length", "0 * first + length",
           SOUND + "Corners.test_a_hole_in_a_flange_counts_from_the_edges_first_corner_as_listed"),
    Mutant("bendcore/families/plate/flanges.py", "            if (corner.reaches_behind(figures, free, other) and corner.reaches_behind("
           "other, beyond, figures)) or (\n                    corner.undercuts(figures, free, other, beyond) or corner.undercuts("
           "other, beyond, figures, free)):", "            if (corner.reaches_behind(figures, free, other) and corner.reaches_behind("
           "other, beyond, figures)):", SOUND + "Corners.test_a_relief_leaves_what_the_next_bend_hangs_on_or_a_web"),
    Mutant("bendcore/families/tray/shape.py", "max(tab.ease, step)", "tab.ease",
           SOUND + "Corners.test_a_tab_begins_above_the_zone_beside_it"),
    Mutant("bendcore/sheet/sound.py", "        if one > other:", "        if False:",
           SOUND + "Holes.test_holes_on_each_other_are_refused_at_the_second"),
    Mutant("bendcore/sheet/solid.py", "_quads(c[1:], d[1:], d[:-1], c[:-1])", "_quads(c[:-1], d[:-1], d[1:], c[1:])",
           SOUND + "Judged.test_solids_of_plain_parts_are_closed_and_hold_the_metal_of_their_blank"),
    Mutant("bendcore/sheet/unfold.py", "without_tiny(move(whole.exterior.coords[:-1]))", "move(whole.exterior.coords[:-1])",
           SOUND + "Judged.test_random_parts_of_all_families_are_what_they_fold_to"),
    Mutant("bendcore/sheet/fold.py", "radius = bend.figures.radius_at(angle) + (0 if bend.sign > 0 else thickness)",
           "radius = bend.figures.radius_at(angle)",
           SOUND + "Judged.test_random_parts_of_all_families_are_what_they_fold_to"),
    # long work, documents of several people, who may, what devices kept, an old shop
    Mutant("dorvan/longwork/line.py", "return own - GAINED * (now - job.since)", "return own",
           LONG + "Lines.test_nobody_waits_for_ever"),
    Mutant("dorvan/longwork/line.py", "own = sum(other.about for other in self.doing if other.who == job.who)", "own = 0.0",
           LONG + "Lines.test_who_is_being_served_waits_behind_who_is_not"),
    Mutant("dorvan/longwork/line.py", "if not whatever and sum(other.who == job.who for other in self.waiting) >= self.each:",
           "if False:", LONG + "Lines.test_what_is_beyond_the_bounds_is_refused_with_a_word"),
    Mutant("dorvan/longwork/workers.py", "for _ in range(2):", "for _ in range(1):",
           LONG + "LongWork.test_a_process_killed_at_rest_or_at_work_is_replaced"),
    Mutant("dorvan/longwork/workers.py", "resource.setrlimit(resource.RLIMIT_AS,", "len((resource.RLIMIT_AS,)) or (",
           LONG + "LongWork.test_time_and_memory_are_bounded"),
    Mutant("dorvan/longwork/workers.py", "            pool.join()  # only then it is", "",
           LONG + "LongWork.test_what_is_let_go_is_ended"),
    Mutant("dorvan/longwork/desk.py", "        if not waited_for.acquire(blocking=False):\n            raise NotYet",
           "        waited_for.acquire(blocking=False)", LONG + "LongWork.test_only_so_many_requests_wait_at_a_time"),
    Mutant("dorvan/longwork/desk.py", "            self.line.drop(job)\n            self._gone(job)", "            self._gone(job)",
           LONG + "LongWork.test_what_nobody_waits_for_leaves_at_once"),
    Mutant("dorvan/versions/models.py", "type(self)._default_manager.filter(pk=self.pk, version=self.version)",
           "type(self)._default_manager.filter(pk=self.pk)", TOGETHER + "Races.test_a_sheet_a_brake_and_a_ticket"),
    Mutant("dorvan/versions/models.py", "if self.ALL in things or self.ALL in one.things or {*one.things} & {*things}]",
           "if self.ALL in things or self.ALL in one.things]",
           TOGETHER + "Clashes.test_a_section_of_a_brake_that_another_changed_is_told_and_another_section_is_done"),
    Mutant("dorvan/day/views.py", "        others = [one for one in since if one.put == name]", "        others = []",
           "tests.web.test_day.Day.test_a_task_is_put_somewhere_and_let_go_again"),
    Mutant("dorvan/people/may.py", "if name in (LEADS_READ if reads else LEADS) and not lead:", "if False:",
           "tests.web.test_access.Access.test_a_bench_hand_changes_nothing_that_is_a_leads_whatever_is_sent"),
    Mutant("dorvan/tickets/gate.py", "return is_cut(ticket) and not set(asks[ticket.job]) <= set(asks[job])",
           "return not set(asks[ticket.job]) <= set(asks[job])",
           DEEDS + "test_a_kind_of_job_that_asks_less_is_on_record_and_a_leads_once_metal_is_cut"),
    Mutant("dorvan/keeping/taken.py", "unquote(request.headers[BY]) != request.user.device_name", "False",
           TAKEN + "test_it_is_taken_under_its_own_name_only"),
    Mutant("dorvan/keeping/taken.py", "        Taken.objects.create(key=key, by=request.user)", "        pass",
           TAKEN + "test_a_key_is_taken_once_and_with_what_it_wrote"),
    Mutant("dorvan/keeping/taken.py", "            taken.cookies = response.cookies", "            pass",
           TAKEN + "test_it_is_taken_under_its_own_name_only"),
    Mutant("dorvan/people/guesses.py", 'found["names"] >= NAMES and', "False and",
           "tests.web.test_keeping.SigningIn.test_one_name_after_another_from_one_place_is_stopped_and_elsewhere_goes_on"),
    Mutant("bendcore/cutting/guillotine.py", "        if piece not in run.left_out:  # brought in by an exchange before its turn\n"
           "            continue\n", "", CUT + "Plans.test_an_exchange_that_makes_room_for_another_that_is_left_out"),
    Mutant("bendcore/quality/fit.py", "    return tuple(means), of, count.astype(float)",
           "    return tuple(means), of, np.ones(len(count))", "tests.core.test_ledger.Many.test_many_samples_are_fitted_as_if_one_by_one"),
)


def lives(mutant: Mutant) -> str:
    """Why a mutant lives, or nothing when its test failed as it must."""
    with tempfile.TemporaryDirectory() as folder:
        tree = Path(folder) / "tree"
        shutil.copytree(ROOT, tree, ignore=shutil.ignore_patterns(
            ".git", ".venv", "var", "node_modules", "screenshots"))
        path = tree / mutant.file
        text = path.read_text("utf-8")
        if text.count(mutant.old) != 1:
            return f"stands {text.count(mutant.old)} times in the file"
        path.write_text(text.replace(mutant.old, mutant.new), "utf-8")
        done = subprocess.run([sys.executable, "manage.py", "test", mutant.test, "--testrunner", "tests.runner.Runner"],
                              cwd=tree, capture_output=True, text=True,
                              env=os.environ | {"DORVAN_DATA": folder, "DORVAN_WORKERS": "0"})
        if "Ran 1 test" not in done.stderr:
            return f"its test did not run: {done.stderr[-300:]}"
        return "" if done.returncode else "its test passed"


def main() -> int:
    wanted = [m for m in MUTANTS if not sys.argv[1:] or any(word in m.file + m.new for word in sys.argv[1:])]
    with ThreadPoolExecutor(2) as hands:
        found = list(zip(wanted, hands.map(lives, wanted), strict=True))
    for mutant, why in found:
        put_in = (mutant.new.strip() or "(taken out)").splitlines()[0][:60]
        print(f"  {'LIVES ' if why else 'killed'} {mutant.file:34} {put_in:60} {why}")
    alive = sum(bool(why) for _, why in found)
    print(f"{len(found) - alive} of {len(found)} mutants killed")
    return bool(alive)


if __name__ == "__main__":
    sys.exit(main())
