"""Every limit of Deft Arc, in one place. What lies beyond is refused with a sentence.

Bytes are bytes, sizes are pixels, times are seconds unless a name says otherwise.
"""

# Scenes and projects
MAX_NAME = 120
MAX_SCENES = 50
MAX_LAYERS = 1_000
MAX_KEYS_PER_LANE = 20_000
MAX_SIDE = 8_192
MIN_SIDE = 2
MAX_SCENE_FRAMES = 36_000
MAX_FRAME_RATE = 240
#: Parts of one segment of steps; settles and bounces one lane remembers; eases of one's own; their knots.
MAX_STEPS = 1_000
MAX_CRAFTS = 40
MAX_OWN_EASES = 200
MAX_EASE_KNOTS = 400
#: Samples laid on a lane at once.
MAX_SAMPLES = 20_000
#: No key lies further than this from the scene's start, before or after.
MAX_TIME_SECONDS = 24 * 3_600
#: No coordinate, size, angle or percentage is larger than this, in its core unit.
MAX_NUMBER = 1e7
#: An outline drawn here has at most so many points, six numbers each.
MAX_OUTLINE_POINTS = 2_000
MAX_BLEND_NUMBERS = 6 * MAX_OUTLINE_POINTS
MAX_CONTOURS = 200
MAX_GUIDES = 200
#: Artwork of deleted layers that a project keeps for reuse.
MAX_SHELF = 120

# Things brought in
MAX_UPLOAD_BYTES = 40 * 1024 * 1024
MAX_SVG_BYTES = 8 * 1024 * 1024
MAX_SVG_NODES = 20_000
MAX_SVG_DEPTH = 60
MAX_OUTLINE_NUMBERS = 2_000_000
MAX_CSV_BYTES = 4 * 1024 * 1024
MAX_PICTURE_PIXELS = 50_000_000
MAX_TEXT = 2_000
MAX_FONT_BYTES = 12 * 1024 * 1024
MAX_FONTS = 60

# Project files
MAX_ARCHIVE_FILES = 2_000
MAX_ARCHIVE_BYTES = 400 * 1024 * 1024
MAX_ARCHIVE_RATIO = 200
MAX_DOCUMENT_BYTES = 72 * 1024 * 1024
#: Letters of a project's keys and shapes: what is stored here can always be read back from its file.
MAX_PROJECT_TEXT = 64 * 1024 * 1024

# Requests
MAX_EDIT_BYTES = 4 * 1024 * 1024
MAX_TABLE_NUMBERS = 40_000_000
