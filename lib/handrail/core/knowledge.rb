# frozen_string_literal: true

require "yaml"
require "json_schemer"

module Handrail
  # Reads the trade's knowledge files (YAML) and holds each against its JSON Schema.
  module Knowledge
    # A knowledge file is not as it must be. The message names file, key and fault.
    class Faulty < Handrail::Error
    end

    FOLDER = File.join(ROOT, "knowledge")
    SCHEMAS = File.join(FOLDER, "schema")
    # what the schemas know by name: whether a value is one of what stands in core
    FORMATS = { "kind_of_check" => ->(value, _) { Fitting::Kind.all.key?(value) } }.freeze
    WORDS = { "kind_of_check" => -> { "it is none of #{Fitting::Kind.keys.join(", ")}" } }.freeze
    private_constant :FORMATS, :WORDS

    # path - the YAML file; schema - the name of a file in knowledge/schema, without its ending. A
    # block gets the Hash before it is held against the schema, and returns what is to be held
    # against it. Returns the Hash, frozen. Raises Faulty.
    def self.read(path, schema:)
      raw = YAML.safe_load_file(path, aliases: true)
      raw = yield raw if block_given?
      faults = schemer(schema).validate(raw).map { |fault| sentence(fault) }
      raise Faulty, "#{File.basename(path)}: #{faults.first(5).join("; ")}" if faults.any?

      deep_freeze(raw)
    rescue Psych::Exception => e
      raise Faulty, "#{File.basename(path)}: #{e.message}"
    rescue SystemCallError => e
      raise Faulty, "#{path}: #{e.message[/\A[^@]+/].strip}. Name a file that can be read."
    end

    # What several families share, by section and key (knowledge/common.yml).
    def self.common = @common ||= read(File.join(ROOT, "knowledge", "common.yml"), schema: "common")

    def self.schemer(name)
      @schemers ||= {}
      @schemers[name] ||= JSONSchemer.schema(
        YAML.safe_load_file(File.join(SCHEMAS, "#{name}.yml")),
        formats: FORMATS
      )
    end

    def self.sentence(fault)
      pointer = fault["data_pointer"].to_s.delete_prefix("/").tr("/", ".")
      named = fault["schema"]["format"] if fault["type"] == "format"
      said = WORDS[named]&.call || fault["error"]
      "#{pointer.empty? ? "the file" : pointer}: #{said}"
    end

    # The same Hash or Array, frozen with all it holds.
    def self.deep_freeze(object)
      case object
      when Hash
        object.each_value { |value| deep_freeze(value) }
      when Array
        object.each { |value| deep_freeze(value) }
      end
      object.freeze
    end
    private_class_method :schemer, :sentence
  end
end
