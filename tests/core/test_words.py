"""What is said by pages, scripts and messages: no ids, no words that nobody knows, no known slips."""

from django.test import SimpleTestCase

from tests.words import Said, every, odd, of_python, of_template


class Words(SimpleTestCase):
    def test_nothing_that_is_said_is_odd(self):
        said = every()
        self.assertGreater(len(said), 3000)
        self.assertEqual([(words, one.where, one.text) for one, words in odd(said)], [])

    def test_what_is_odd_is_found(self):
        for text, words in (("walls.front.height is too low", "an id: walls.front.height"),
                            ("an other edge", "not English"), ("of hole-F1-F1 there", "an id: hole-F1-F1"),
                            ("the the wall", "a word twice"), ("a edge of it", "a before a vowel"),
                            ("it has a flangge", "no word: flangge"), ("with 1 bend lines", "one of many"),
                            ("take stations[0] off", "an id: stations[0]")):
            found = [told for _, told in odd([Said("here", text)])]
            self.assertTrue(any(told.startswith(words) for told in found), (text, found))

    def test_a_template_and_a_module_are_read_as_people_see_them(self):
        page = ('<p class="x">Cut <b>{{ n }}</b> of{% if a %} them{% endif %}</p>\n<img alt="A still">'
                "<script>let no = 1</script>")
        self.assertEqual(of_template(page), [(1, "Cut … of‖ them‖"), (2, "A still")])
        module = '"""Doc."""\nimport re\nNO = re.compile("not said")\nYES = f"is {NO} long"\n'
        self.assertEqual(list(of_python(module)), [(4, "is … long")])
